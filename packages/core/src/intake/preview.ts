import { columnLetters } from '../address';
import type { LocaleFacts } from '../values';
import type { ArrivalPlan, ArrivingColumn } from './arrival';
import { ColumnTally } from './columnTally';
import { unguardText } from './guard';
import { guessLayout, headingsOf, LAYOUT_ROWS, type FoundHeading, type Layout } from './layout';
import { isTotalsRow } from './textShape';

export interface PreviewColumn extends ArrivingColumn {
  /** Its letters in the file. */
  readonly letters: string;
  readonly origin: FoundHeading['origin'];
  /** Without heading and values: left out unless asked for. */
  readonly empty: boolean;
  readonly ambiguousDates: boolean;
}

/** What a file would become, told before anything is stored. */
export interface ArrivalPreview {
  readonly plan: ArrivalPlan;
  readonly columns: readonly PreviewColumn[];
  /** The file's first rows as they are. */
  readonly rows: readonly (readonly string[])[];
  /** Rows further down that are left out or of another length, and the last ones, each by its number from 1. */
  readonly later: readonly { readonly row: number; readonly cells: readonly string[] }[];
  /** Values that stand twice in a column where nearly all are different, as in a key. */
  readonly doubles: readonly { readonly index: number; readonly values: readonly string[] }[];
  /** Rows of the file, whatever becomes of them. */
  readonly fileRows: number;
  readonly records: number;
  readonly blankRows: readonly number[];
  readonly totalsRows: readonly number[];
  /** Rows with fewer and with more cells than there are headings. */
  readonly shortRows: number;
  readonly longRows: number;
}

export const PREVIEW_ROWS = 40;
/** Rows shown from further down: of each outcome, and at the end. */
const MOST_ODD = 20;
const LAST_ROWS = 10;
/** Columns in which a key is looked for, and what it takes to be one. */
const KEYED_COLUMNS = 2;
const FEWEST_KEYED = 20;
const MOST_KEYED = 200_000;
const KEYED_SHARE = 0.95;
const MOST_DOUBLES = 5;

/** Looks through a file's rows and guesses its layout and kinds. Rows are given one by one. */
export class ArrivalScout {
  private readonly first: string[][] = [];
  private readonly tallies: ColumnTally[] = [];
  private readonly blankRows: number[] = [];
  private readonly totalsRows: number[] = [];
  private readonly widths = new Map<number, number>();
  private layout: Layout | null;
  private row = 0;
  private records = 0;
  private scanned = 0;
  private readonly odd = new Map<number, readonly string[]>();
  private readonly last: { row: number; cells: readonly string[] }[] = [];
  private readonly keyed = Array.from({ length: KEYED_COLUMNS }, () => new KeyTally());

  /** @param layout as the analyst corrected it; guessed otherwise */
  constructor(
    private readonly locale: LocaleFacts,
    layout?: Layout,
    private readonly keepTotals = false,
    private readonly guarded = true,
  ) {
    this.layout = layout ?? null;
  }

  add(row: string[]): void {
    this.row += 1;
    this.last.push({ row: this.row, cells: row });
    if (this.last.length > LAST_ROWS) this.last.shift();
    if (this.first.length < LAYOUT_ROWS) {
      this.first.push(row);
      return;
    }
    this.scanFirst();
    this.scan(row, this.row);
  }

  private scanFirst(): Layout {
    const layout = (this.layout ??= guessLayout(this.first));
    for (; this.scanned < this.first.length; this.scanned += 1) {
      this.scan(this.first[this.scanned] ?? [], this.scanned + 1);
    }
    return layout;
  }

  private scan(row: readonly string[], rowNumber: number): void {
    const layout = this.layout;
    if (
      !layout ||
      rowNumber < (layout.headingRow ?? 0) + (layout.headingRow ? layout.headingRows : 0)
    ) {
      return;
    }
    if (row.every((cell) => cell.trim() === '')) {
      this.blankRows.push(rowNumber);
      this.noteOdd(row, rowNumber, this.blankRows.length);
      return;
    }
    if (!this.keepTotals && isTotalsRow(row)) {
      this.totalsRows.push(rowNumber);
      this.noteOdd(row, rowNumber, this.totalsRows.length);
      return;
    }
    this.records += 1;
    const alike = (this.widths.get(row.length) ?? 0) + 1;
    this.widths.set(row.length, alike);
    if (this.widths.size > 1) this.noteOdd(row, rowNumber, alike);
    this.keyed.forEach((each, index) => each.add(row[index] ?? ''));
    row.forEach((cell, index) => {
      (this.tallies[index] ??= new ColumnTally()).add(this.guarded ? unguardText(cell) : cell);
    });
  }

  private noteOdd(row: readonly string[], rowNumber: number, soMany: number): void {
    if (rowNumber > PREVIEW_ROWS && soMany <= MOST_ODD) this.odd.set(rowNumber, row);
  }

  finish(): ArrivalPreview {
    const layout = this.scanFirst();
    const headingWidth = Math.max(0, ...this.headingRows(layout).map(filledWidth));
    const valueWidth = this.tallies.findLastIndex((tally) => !tally.isEmpty) + 1;
    const width = Math.max(headingWidth, valueWidth);
    const columns = headingsOf(this.first, layout, width).map(
      ({ heading, origin }, index): PreviewColumn => {
        const tally = this.tallies[index] ?? new ColumnTally();
        return {
          index,
          letters: columnLetters(index),
          heading,
          origin,
          empty: origin === 'blank' && tally.isEmpty,
          ...tally.guess(this.locale),
        };
      },
    );
    const rowsOfWidth = (test: (length: number) => boolean): number =>
      [...this.widths].reduce((sum, [length, count]) => sum + (test(length) ? count : 0), 0);
    const usual = headingWidth || valueWidth;
    return {
      plan: {
        ...layout,
        columns: columns.filter(({ empty }) => !empty),
        keepTotals: this.keepTotals,
        guarded: this.guarded,
      },
      columns,
      rows: this.first.slice(0, PREVIEW_ROWS),
      later: this.later(),
      doubles: this.keyed.flatMap((each, index) => {
        const values = each.doubles();
        return values.length > 0 ? [{ index, values }] : [];
      }),
      fileRows: this.row,
      records: this.records,
      blankRows: withoutTail(this.blankRows, this.row),
      totalsRows: this.totalsRows,
      shortRows: rowsOfWidth((length) => length < usual),
      longRows: rowsOfWidth((length) => length > usual),
    };
  }

  private later(): ArrivalPreview['later'] {
    for (const { row, cells } of this.last) if (row > PREVIEW_ROWS) this.odd.set(row, cells);
    return [...this.odd]
      .sort(([one], [other]) => one - other)
      .map(([row, cells]) => ({ row, cells }));
  }

  private headingRows({ headingRow, headingRows }: Layout): string[][] {
    return headingRow === null
      ? []
      : this.first.slice(headingRow - 1, headingRow - 1 + headingRows);
  }
}

function filledWidth(row: readonly string[]): number {
  return row.findLastIndex((cell) => cell.trim() !== '') + 1;
}

/** Blank rows at the very end of a file are nothing to tell of. */
function withoutTail(rows: readonly number[], last: number): number[] {
  const kept = [...rows];
  for (let row = last; kept.at(-1) === row; row -= 1) kept.pop();
  return kept;
}

/** Looks for values that stand twice among many that stand once. */
class KeyTally {
  private readonly seen = new Set<string>();
  private readonly twice = new Set<string>();
  private count = 0;

  add(cell: string): void {
    const text = cell.trim();
    if (text === '' || this.count >= MOST_KEYED) return;
    this.count += 1;
    if (this.seen.has(text)) this.twice.add(text);
    else this.seen.add(text);
  }

  /** Some of them; none where the column is no key. */
  doubles(): string[] {
    const isKey = this.count >= FEWEST_KEYED && this.seen.size >= this.count * KEYED_SHARE;
    return isKey ? [...this.twice].slice(0, MOST_DOUBLES) : [];
  }
}
