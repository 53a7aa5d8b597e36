import type { UnfedFieldView, UnpairedView } from '@varn/contract';
import { pairsOf, printReference, type Calculation } from '@varn/core';
import type { Feed } from '../lists/lists';

/** A sheet of choices: the row of its headings, from 1, the columns that feed, and what they feed. */
interface ChoicesSheet {
  readonly row: number;
  readonly columns: Set<number>;
  readonly fedSheets: Set<string>;
}

/** Sheets of which two columns or more, each below its heading, feed fields. */
function choicesSheets(
  feeds: readonly Feed[],
  calculation: Calculation,
): Map<string, ChoicesSheet> {
  const found = new Map<string, ChoicesSheet>();
  for (const { list, columns } of feeds) {
    const [range] = list.source.references;
    const grid = range?.kind === 'range' ? calculation.sheet(range.sheet) : undefined;
    const bounds = grid && range?.kind === 'range' ? grid.boundsOf(range.from, range.to) : null;
    if (!grid || !bounds || bounds.top < 2) continue;
    const held = found.get(grid.sheet.id) ?? {
      row: bounds.top - 1,
      columns: new Set(),
      fedSheets: new Set(),
    };
    held.columns.add(bounds.left);
    for (const { sheetId } of columns) held.fedSheets.add(sheetId);
    found.set(grid.sheet.id, held);
  }
  return new Map([...found].filter(([, { columns }]) => columns.size > 1));
}

/**
 * What of a sheet of choices has no partner: headings that feed nothing, and fields beside those it
 * feeds whose choices are not fed, each with the heading that likely is its own. A field or a
 * heading may have come later.
 *
 * @param fields columns of choices on forms that no list feeds
 */
export function unpairedIn(
  feeds: readonly Feed[],
  fields: readonly UnfedFieldView[],
  calculation: Calculation,
): UnpairedView[] {
  const found: UnpairedView[] = [];
  for (const [sheetId, { row, columns, fedSheets }] of choicesSheets(feeds, calculation)) {
    const grid = calculation.sheet(sheetId);
    if (!grid) continue;
    const headings: { text: string; column: number }[] = [];
    for (let column = 0; column < grid.columnCount; column += 1) {
      const text = calculation.valueAt(grid, row, column);
      const under = calculation.valueAt(grid, row + 1, column);
      if (typeof text !== 'string' || under === null || columns.has(column)) continue;
      headings.push({ text, column });
    }
    const { name } = grid.sheet;
    const beside = fields.filter((each) => fedSheets.has(each.sheetId));
    const pairs = pairsOf(
      headings.map(({ text }) => text),
      beside.map(({ heading }) => heading),
    );
    const unfed = beside.map((field, at): UnfedFieldView => {
      const pair = pairs.find(({ label }) => label === at);
      const heading = pair && headings[pair.heading];
      if (!heading) return field;
      const corner = { column: heading.column, fixedColumn: false, fixedRow: false };
      const from = { ...corner, row: row + 1 };
      const to = { ...corner, row: null };
      const source = printReference({ kind: 'range', sheet: name, from, to });
      return { ...field, likely: heading.text, source };
    });
    if (headings.length + unfed.length === 0) continue;
    found.push({ sheetId, sheet: name, headings: headings.map(({ text }) => text), fields: unfed });
  }
  return found;
}
