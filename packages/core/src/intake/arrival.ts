import { kindOf, type Column, type KindId } from '../kinds';
import type { CellValue, DateOrder, LocaleFacts } from '../values';
import { unguardText } from './guard';
import type { Layout } from './layout';
import { isTotalsRow } from './textShape';

/** One column of an arriving file, and how its texts are read. */
export interface ArrivingColumn {
  /** Its place in the file's rows, from 0. */
  readonly index: number;
  readonly heading: string;
  readonly kind: KindId;
  readonly decimal: '.' | ',';
  readonly dateOrder: DateOrder;
}

/** How an arriving file becomes a sheet. */
export interface ArrivalPlan extends Layout {
  readonly columns: readonly ArrivingColumn[];
  /** Keep rows of totals as records; they are left out otherwise. */
  readonly keepTotals: boolean;
  /** Take the guard off texts that have one. */
  readonly guarded: boolean;
}

/** What became of one row of the file. */
export type ArrivedRow =
  | { readonly is: 'record'; readonly cells: readonly CellValue[]; readonly unread: number }
  | { readonly is: 'top' | 'blank' | 'totals' };

/**
 * The rows above the heading as a sheet's top matter, under the columns that are taken. What stood
 * over a column that is left out goes to the first free cell of its row: nothing is lost.
 */
export function topMatterOf(
  rows: readonly (readonly string[])[],
  { columns }: Pick<ArrivalPlan, 'columns'>,
): (string | null)[][] {
  const taken = new Set(columns.map(({ index }) => index));
  return rows.map((row) => {
    const cells = columns.map(({ index }) => row[index]?.trim() || null);
    const others = row.filter((cell, index) => !taken.has(index) && cell.trim() !== '');
    for (const text of others) {
      const free = cells.indexOf(null);
      cells[free < 0 ? cells.length : free] = text.trim();
    }
    return cells.slice(0, cells.findLastIndex((cell) => cell !== null) + 1);
  });
}

/**
 * Makes the reader of an arriving file's rows. Values are read as they would be when typed, in
 * the file's own number and date style; what can't be read is kept as text.
 *
 * @param now serial of now in the workbook's zone, for dates without a year
 */
export function arrivalReader(
  plan: ArrivalPlan,
  locale: LocaleFacts,
  now: number,
): (row: readonly string[], rowNumber: number) => ArrivedRow {
  const firstRecordRow = plan.headingRow === null ? 1 : plan.headingRow + plan.headingRows;
  const readers = plan.columns.map((column) => cellReader(column, plan.guarded, locale, now));
  return (row, rowNumber) => {
    if (rowNumber < firstRecordRow) return { is: 'top' };
    if (row.every((cell) => cell.trim() === '')) return { is: 'blank' };
    if (!plan.keepTotals && isTotalsRow(row)) return { is: 'totals' };
    let unread = 0;
    const cells = readers.map(({ index, read }): CellValue => {
      const { value, asText } = read(row[index] ?? '');
      if (asText) unread += 1;
      return value;
    });
    return cells.every((cell) => cell === null) ? { is: 'blank' } : { is: 'record', cells, unread };
  };
}

function cellReader(
  arriving: ArrivingColumn,
  guarded: boolean,
  locale: LocaleFacts,
  now: number,
): { index: number; read: (cell: string) => { value: CellValue; asText: boolean } } {
  const { index, decimal, dateOrder, heading, kind: kindId } = arriving;
  const column: Column = { id: '', heading, kind: kindId, settings: {} };
  const kind = kindOf(column);
  const style = { ...locale, decimal, group: decimal === '.' ? ',' : '.', dateOrder };
  const context = { locale: style, now, asWritten: true };
  const asItStands = kind.typing === 'none' || kind.typing === 'choice';
  return {
    index,
    read(cell) {
      const text = guarded ? unguardText(cell) : cell;
      if (text.trim() === '') return { value: null, asText: false };
      if (asItStands) return { value: text, asText: false };
      if (kind.typing === 'number') {
        const plain = text.trim().replace(decimal, '.');
        if (
          String(Number(plain)) === plain &&
          (kindId === 'number' || Number.isInteger(Number(plain)))
        ) {
          return { value: Number(plain), asText: false };
        }
        if (/^[-+]?0\d/.test(plain)) return { value: text, asText: true };
      }
      const reading = kind.read(text, column, context);
      return reading.ok ? { value: reading.value, asText: false } : { value: text, asText: true };
    },
  };
}
