import type { ColumnSettings, KindId } from '../kinds';
import type { CellValue } from '../values';

/** Backgrounds a cell outside of the records can have, by the colours of the palette. */
export const CELL_BACKS = ['brass', 'pine', 'slate', 'amber', 'madder'] as const;
export type CellBack = (typeof CELL_BACKS)[number];

/** How a cell outside of the records stands out, whatever it holds. */
export interface CellStyle {
  readonly strong?: true;
  /** Set as headings are. */
  readonly heading?: true;
  /** Whether its text goes on in further lines. */
  readonly wrapped?: true;
  readonly back?: CellBack;
}

/** What changes in how a cell stands out: a mark is set or taken off, a background chosen or `''`. */
export interface CellStyleChange {
  readonly strong?: boolean;
  readonly heading?: boolean;
  readonly wrapped?: boolean;
  readonly back?: CellBack | '';
}

/** A style after a change; `undefined` where nothing of it is left. */
export function restyled(
  style: CellStyle | undefined,
  change: CellStyleChange,
): CellStyle | undefined {
  const { strong, heading, wrapped, back } = { ...style, ...change };
  const next: CellStyle = {
    ...(strong && { strong }),
    ...(heading && { heading }),
    ...(wrapped && { wrapped }),
    ...(back && { back }),
  };
  return Object.keys(next).length > 0 ? next : undefined;
}

/** What a cell outside of the records holds: a value or a formula `F`, and how it is shown. */
export interface FreeCell<F = unknown> {
  readonly value?: CellValue;
  readonly formula?: F;
  /** How it is shown; without it, as what it is. */
  readonly kind?: KindId;
  readonly settings?: ColumnSettings<never>;
  readonly style?: CellStyle;
}

/** The cells of a free row by column id; an absent one is blank. */
export type FreeCells<F = unknown> = Readonly<Record<string, FreeCell<F>>>;

/** A row outside of the records: above their heading, or in a sheet without records. */
export interface FreeRow<F = unknown> {
  readonly id: string;
  readonly orderKey: number;
  readonly revision: number;
  readonly cells: FreeCells<F>;
}

/** The free rows of a sheet, in the order of their order keys. */
export class FreeRows<F = unknown> {
  private readonly rows: FreeRow<F>[] = [];
  private readonly byId = new Map<string, FreeRow<F>>();

  constructor(rows: Iterable<FreeRow<F>> = []) {
    for (const row of rows) this.byId.set(row.id, row);
    this.rows = [...this.byId.values()].sort((a, b) => a.orderKey - b.orderKey);
  }

  get count(): number {
    return this.rows.length;
  }

  at(position: number): FreeRow<F> | undefined {
    return this.rows[position];
  }

  get(id: string): FreeRow<F> | undefined {
    return this.byId.get(id);
  }

  all(): readonly FreeRow<F>[] {
    return this.rows;
  }

  /** The position of a row, from 0, or `null` where it is not there. */
  positionOf(id: string): number | null {
    const row = this.byId.get(id);
    return row ? this.positionFor(row.orderKey) : null;
  }

  /** The position a row with an order key has or would get. */
  positionFor(orderKey: number): number {
    let low = 0;
    let high = this.rows.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((this.rows[middle]?.orderKey ?? 0) < orderKey) low = middle + 1;
      else high = middle;
    }
    return low;
  }

  /** Adds a row, or replaces the one with its id. */
  put(row: FreeRow<F>): void {
    const held = this.byId.get(row.id);
    this.byId.set(row.id, row);
    if (held?.orderKey === row.orderKey) {
      this.rows[this.positionFor(row.orderKey)] = row;
      return;
    }
    if (held) this.rows.splice(this.positionFor(held.orderKey), 1);
    this.rows.splice(this.positionFor(row.orderKey), 0, row);
  }

  remove(id: string): void {
    const position = this.positionOf(id);
    if (position === null) return;
    this.rows.splice(position, 1);
    this.byId.delete(id);
  }
}

/** Whether a free cell says nothing: no value, no formula, no way of showing, no style. */
export function isBlankCell({ value = null, formula, kind, style }: FreeCell): boolean {
  return value === null && formula === undefined && kind === undefined && style === undefined;
}
