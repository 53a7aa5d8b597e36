import type { SheetView, WorkbookView } from '@varn/contract';
import {
  printReference,
  referencesIn,
  type ColumnSettings,
  type GivenSettings,
  type ListSettings,
  type WrittenReference,
} from '@varn/core';

/** Where a list comes from, as it is chosen. */
export type SourceKind = 'typed' | 'column' | 'range' | 'own';

/** The one reference that a text is; `null` where it is more, or none. */
function referenceIn(source: string): WrittenReference | null {
  const text = source.trim().replace(/^=/, '');
  const [span, another] = referencesIn(text, { decimal: '.' });
  return span && !another && span.from === 0 && span.to === text.length ? span.reference : null;
}

/** Whether a source can be read; what it names need not be there. */
export const isSource = (source: string): boolean => referenceIn(source) !== null;

/** The sheet and heading of a source that is a column of records; `null` for any other. */
export function columnSource(source: string): { sheet: string; heading: string } | null {
  const reference = referenceIn(source);
  return reference?.kind === 'heading' && reference.sheet !== null
    ? { sheet: reference.sheet, heading: reference.heading }
    : null;
}

/** A column of records as a source: `Stations!'Code'`. */
export const sourceOf = (sheet: string, heading: string): string =>
  printReference({ kind: 'heading', sheet, heading });

/** What is said of the source's own row: `'Name'`. */
export const partOf = (heading: string): string =>
  printReference({ kind: 'heading', sheet: null, heading });

/** The heading of such a part; `null` where it is more than a heading. */
export function headingOf(part: string | undefined): string | null {
  const reference = part === undefined ? null : referenceIn(part);
  return reference?.kind === 'heading' && reference.sheet === null ? reference.heading : null;
}

/** The name of the sheet a source stands in. */
export function sheetOf(source: string): string | null {
  const reference = referenceIn(source);
  return reference && 'sheet' in reference ? reference.sheet : null;
}

export const kindOfSource = (list: ListSettings | undefined, own: string): SourceKind => {
  if (!list) return 'typed';
  if (list.source === own) return 'own';
  return columnSource(list.source) ? 'column' : 'range';
};

/** A range that goes on down from its first row: `Choices!B4:B9` becomes `Choices!B4..`. */
export function goingDown(range: string): string {
  const reference = referenceIn(range);
  if (!reference || (reference.kind !== 'range' && reference.kind !== 'cell')) return range;
  const from = reference.kind === 'cell' ? reference.cell : reference.from;
  const to = reference.kind === 'cell' ? reference.cell : reference.to;
  if (from.row === null || from.column !== to.column) return range;
  return printReference({
    kind: 'range',
    sheet: reference.sheet,
    from,
    to: { ...to, row: null },
  });
}

export const isGoingDown = (range: string): boolean =>
  goingDown(range) === range && range.includes('..');

/**
 * The formula of a column that holds what choosing brings along, and follows the source from then on.
 *
 * @param chosen the heading of the column that is chosen in
 * @param part what is brought of the source's row
 * @returns `null` where it is no column, or no range, of the source
 */
export function keptFormula({ source }: ListSettings, chosen: string, part: string): string | null {
  const records = columnSource(source);
  const heading = headingOf(part);
  const isRange = referenceIn(part)?.kind === 'range';
  if (records ? heading === null : !isRange) return null;
  const brought = records && heading !== null ? sourceOf(records.sheet, heading) : part;
  return `XLOOKUP(${partOf(chosen)};${source};${brought};"")`;
}

/** Sheets of a workbook that have records, as they can be chosen from. */
export const withRecords = ({ sheets }: WorkbookView): readonly (readonly [string, string])[] =>
  sheets.filter(({ hasRecords }) => hasRecords).map(({ name }) => [name, name]);

export const headingsIn = (sheet: SheetView | undefined): readonly (readonly [string, string])[] =>
  (sheet?.columns ?? []).map(({ heading }) => [heading, heading]);

/** Settings whose choices are fed; without a list they are typed from here on. */
export function fedSettings(
  {
    list: _list,
    choices: _choices,
    shownAs: _shownAs,
    formula: _formula,
    ...rest
  }: ColumnSettings<string>,
  list: ListSettings | undefined,
): GivenSettings {
  if (!list) return rest;
  // What joins the list is an answer of one's own first.
  return { ...(list.adds && { own: '' }), ...rest, list };
}
