import { localeFacts, type CellValue } from '../../values';
import { withinBudget } from '../functions/budget';
import {
  compile,
  NO_RECORD,
  isArea,
  parseWritten,
  type Area,
  type Moment,
  type Sources,
  type Value,
  type WrittenReference,
} from '..';

export const MOMENT: Moment = { locale: localeFacts('en-GB'), now: () => 46_027.5 };

/** Values of a small sheet, by plain addresses: enough to try functions and operators. */
export function sourcesOf(sheet: readonly (readonly CellValue[])[]): Sources<WrittenReference> {
  const at = (row: number, column: number): CellValue => sheet[row - 1]?.[column] ?? null;
  return {
    read(reference) {
      if (reference.kind === 'cell') {
        const { row, column } = reference.cell;
        return () => at(row ?? 1, column);
      }
      if (reference.kind !== 'range') throw new Error(`${reference.kind} is not on this sheet`);
      const { from, to } = reference;
      const area: Area = {
        rows: (to.row ?? sheet.length) - (from.row ?? 1) + 1,
        columns: to.column - from.column + 1,
        at: (row, column) => at((from.row ?? 1) + row, from.column + column),
      };
      return () => area;
    },
    place(reference) {
      const cell = reference?.kind === 'cell' ? reference.cell : null;
      const from = reference?.kind === 'range' ? reference.from : cell;
      return from && { row: from.row ?? 1, column: from.column + 1 };
    },
  };
}

export function evaluate(
  formula: string,
  sheet: readonly (readonly CellValue[])[],
  locale = MOMENT.locale,
): Value {
  const expression = parseWritten(formula, locale);
  const code = compile(expression, sourcesOf(sheet), { ...MOMENT, locale });
  return withinBudget(() => code(NO_RECORD));
}

/** A value as the cases write it: errors as texts, areas as rows. */
export function plain(value: Value): unknown {
  if (isArea(value)) {
    const rows = Array.from({ length: value.rows }, (_, row) =>
      Array.from({ length: value.columns }, (_each, column) => plain(value.at(row, column))),
    );
    return rows.length === 1 && rows[0]?.length === 1 ? rows[0][0] : rows;
  }
  return typeof value === 'object' && value !== null ? value.error : value;
}
