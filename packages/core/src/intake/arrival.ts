import { kindOf, type Column, type KindId } from '../kinds';
import { judgeCell, NO_DOUBTS, type JudgedCell } from '../records';
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
  /** With how many decimals all its numbers are written, so that they align. */
  readonly decimals?: number | undefined;
}

/** How an arriving file becomes a sheet. */
export interface ArrivalPlan extends Layout {
  readonly columns: readonly ArrivingColumn[];
  /** Keep rows of totals as records; they are left out otherwise. */
  readonly keepTotals: boolean;
  /** Take the guard off texts that have one. */
  readonly guarded: boolean;
  /** Rows of the file that are left out, from 1. */
  readonly without?: readonly number[];
}

/** What became of one row of the file. */
export type ArrivedRow =
  | { readonly is: 'record'; readonly cells: readonly CellValue[]; readonly unread: number }
  | { readonly is: 'top' | 'blank' | 'totals' | 'leftOut' };

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
  const without = new Set(plan.without);
  const readers = plan.columns.map((column) => cellReader(column, plan.guarded, locale, now));
  return (row, rowNumber) => {
    if (rowNumber < firstRecordRow) return { is: 'top' };
    if (without.has(rowNumber)) return { is: 'leftOut' };
    if (row.every((cell) => cell.trim() === '')) return { is: 'blank' };
    if (!plan.keepTotals && isTotalsRow(row)) return { is: 'totals' };
    let unread = 0;
    const cells = readers.map(({ index, read }): CellValue => {
      const { value, doubts } = read(row[index] ?? '');
      if (doubts.some(({ strictness }) => strictness === 'note')) unread += 1;
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
): { index: number; read: (cell: string) => JudgedCell } {
  const { index, decimal, dateOrder, heading, kind: kindId } = arriving;
  const column: Column = { id: '', heading, kind: kindId, settings: {} };
  const { typing } = kindOf(column);
  const style = { ...locale, decimal, group: decimal === '.' ? ',' : '.', dateOrder };
  const ground = { context: { locale: style, now, asWritten: true }, keepsUnread: true };
  const asItStands = typing === 'none' || typing === 'choice';
  return {
    index,
    read(cell) {
      const typed = guarded ? unguardText(cell) : cell;
      if (typed.trim() === '') return { value: null, doubts: NO_DOUBTS };
      if (asItStands) return { value: typed, doubts: NO_DOUBTS };
      if (typing === 'number') {
        const plain = typed.trim().replace(decimal, '.');
        const value = Number(plain);
        const fits = kindId === 'number' || Number.isInteger(value);
        if (String(value) === plain && fits) return { value, doubts: NO_DOUBTS };
        if (/^[-+]?0\d/.test(plain)) return kept(typed);
      }
      return judgeCell({ typed }, column, ground);
    },
  };
}

/** Figures whose leading zeros would be lost in a number stay the text they are. */
const kept = (text: string): JudgedCell => ({
  value: text,
  doubts: [{ problem: { code: 'notANumber', text }, strictness: 'note' }],
});
