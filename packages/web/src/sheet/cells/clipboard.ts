import Papa from 'papaparse';

/** A block of copied cells, row by row. */
export interface CopiedCell {
  /** As it reads back when it is typed. */
  readonly text: string;
  /** As people write it, with its `=`, where it is computed. */
  readonly formula?: string;
}

export interface Copied {
  readonly rows: readonly (readonly CopiedCell[])[];
  /** Where the block was copied from, for the references of its formulas. */
  readonly from?: { readonly row: number; readonly column: number };
}

/** Cells as tab-separated values, quoted as RFC 4180 has it where that is needed. */
export function toTsv({ rows }: Copied): string {
  const texts = rows.map((cells) => cells.map(({ text }) => text));
  return Papa.unparse(texts, { delimiter: '\t', newline: '\r\n' });
}

/** Cells as an HTML table; formulas go along for whoever pastes them into a sheet of ours. */
export function toHtml({ rows, from }: Copied): string {
  const page = document.implementation.createHTMLDocument('');
  const table = page.body.appendChild(page.createElement('table'));
  if (from) {
    table.dataset['varnRow'] = String(from.row);
    table.dataset['varnColumn'] = String(from.column);
  }
  for (const cells of rows) {
    const row = table.insertRow();
    for (const { text, formula } of cells) {
      const cell = row.insertCell();
      cell.textContent = text;
      if (formula !== undefined) cell.dataset['varnFormula'] = formula;
    }
  }
  return page.body.innerHTML;
}

/**
 * What was copied last, as a table and as plain text; '' for what it is not.
 *
 * @throws where the browser lets no page read it, or not this one
 */
export async function readClipboard(): Promise<{ html: string; text: string }> {
  const items = await navigator.clipboard.read();
  const as = async (type: string): Promise<string> => {
    const item = items.find(({ types }) => types.includes(type));
    return item ? (await item.getType(type)).text() : '';
  };
  return { html: await as('text/html'), text: await as('text/plain') };
}

/**
 * Reads what was copied here or in another program. A table is read where it is one of ours, or
 * where there is no plain text beside it: plain text is as people typed it, a table as it looked.
 */
export function readCopied(html: string, text: string): Copied {
  const table =
    html === '' ? null : new DOMParser().parseFromString(html, 'text/html').querySelector('table');
  if (table && (table.dataset['varnRow'] !== undefined || text === '')) return fromTable(table);
  const { data } = Papa.parse<string[]>(text.replace(/\r?\n$/, ''), { delimiter: '\t' });
  return { rows: data.map((cells) => cells.map((each) => ({ text: each }))) };
}

function fromTable(table: HTMLTableElement): Copied {
  const { varnRow, varnColumn } = table.dataset;
  const rows = [...table.rows].map((row) =>
    [...row.cells].flatMap((cell): CopiedCell[] => {
      const { varnFormula: formula } = cell.dataset;
      const text = cell.textContent.trim();
      const blank = Array.from({ length: cell.colSpan - 1 }, () => ({ text: '' }));
      return [{ text, ...(formula !== undefined && { formula }) }, ...blank];
    }),
  );
  return {
    rows,
    ...(varnRow !== undefined && { from: { row: Number(varnRow), column: Number(varnColumn) } }),
  };
}
