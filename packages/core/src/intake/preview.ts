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
  readonly records: number;
  readonly blankRows: readonly number[];
  readonly totalsRows: readonly number[];
  /** Rows with fewer and with more cells than there are headings. */
  readonly shortRows: number;
  readonly longRows: number;
}

export const PREVIEW_ROWS = 14;

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
      return;
    }
    if (!this.keepTotals && isTotalsRow(row)) {
      this.totalsRows.push(rowNumber);
      return;
    }
    this.records += 1;
    this.widths.set(row.length, (this.widths.get(row.length) ?? 0) + 1);
    row.forEach((cell, index) => {
      (this.tallies[index] ??= new ColumnTally()).add(this.guarded ? unguardText(cell) : cell);
    });
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
      records: this.records,
      blankRows: withoutTail(this.blankRows, this.row),
      totalsRows: this.totalsRows,
      shortRows: rowsOfWidth((length) => length < usual),
      longRows: rowsOfWidth((length) => length > usual),
    };
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
