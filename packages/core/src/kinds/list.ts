import type { CellValue, Strictness } from '../values';

/** In which order a list is offered, where it is not the source's own. */
export const LIST_ORDERS = ['rising', 'falling', 'newest', 'used'] as const;
export type ListOrder = (typeof LIST_ORDERS)[number];

/** A list is narrowed to the rows of its source that go with what another column of the record holds. */
export interface Narrowing<F = string> {
  /** What of the source's row is compared: `'River'`. */
  readonly by: F;
  /** The column, of the sheet the list is offered in, that it must be equal to. */
  readonly columnId: string;
}

/** What choosing brings along: a value of the source's row that is put into another column. */
export interface BroughtAlong<F = string> {
  readonly from: F;
  readonly columnId: string;
}

/**
 * What feeds the choices of a column. `F` is a formula: the text people write, or a formula by
 * identity where it is stored. All but `source` is said of the source's own rows: `'Name'` is the
 * column of the sheet the source stands in; beside a range it is another range of as many cells.
 */
export interface ListSettings<F = string> {
  /** The stored values: `Stations!'Code'`, `Choices!B4..`, a name, `SEQUENCE(31)`. */
  readonly source: F;
  /** What is shown for a value; the value itself where it says nothing. */
  readonly label?: F;
  /** A second line under the label. */
  readonly second?: F;
  /** Only rows for which this holds are offered. */
  readonly where?: F;
  readonly narrowed?: readonly Narrowing<F>[];
  readonly fills?: readonly BroughtAlong<F>[];
  readonly order?: ListOrder;
  /** Values that are offered before all others. */
  readonly first?: readonly string[];
  /** Match letter case and accents. */
  readonly exact?: true;
  /** What one person chose of late is offered before all others. */
  readonly recent?: true;
  /** An answer of one's own becomes a row of the source. */
  readonly adds?: true;
  /** How a value that is not on the list weighs; it is refused where it says nothing. */
  readonly strictness?: Exclude<Strictness, 'refuse'>;
}

/** A value that a cell of choices holds. */
export type ChoiceValue = string | number | boolean;

/** One of the choices that a list offers. */
export interface ListItem {
  /** What is stored. */
  readonly value: ChoiceValue;
  /** The value as it is typed and shown in its column. */
  readonly text: string;
  readonly label: string;
  /** The second line; blank for none. */
  readonly second: string;
  /** What it goes with, in the order of the list's narrowings, as people read it. */
  readonly by: readonly string[];
  /** What choosing it brings along, in the order of the list's fillings. */
  readonly fills: readonly CellValue[];
  /** What it is sorted by where that is no text: a number, or the serial of a moment. */
  readonly size?: number;
  /** How much it is used among the rest: the more, the higher; absent for little. */
  readonly use?: number;
}

/** What reading a typed choice asks of a list. */
export interface Listed {
  /** The items a typed text can mean: by value, else by label. */
  meant(typed: string, asWritten: boolean): readonly ListItem[];
  /** The items that hold a stored value: several where each goes with another narrowing. */
  holding(value: CellValue): readonly ListItem[];
  /** The item that a typed text meant until of late, and that left the list since. */
  gone(typed: string): ListItem | undefined;
  /** A label that begins as the text does. */
  near(typed: string): string | null;
}

/** A list written in another way. @param write is given the source too, where a row of it is meant */
export function mapList<F, G>(
  { source, label, second, where, narrowed, fills, ...rest }: ListSettings<F>,
  write: (formula: F, source?: F) => G,
): ListSettings<G> {
  const ofRow = (formula: F): G => write(formula, source);
  return {
    source: write(source),
    ...(label !== undefined && { label: ofRow(label) }),
    ...(second !== undefined && { second: ofRow(second) }),
    ...(where !== undefined && { where: ofRow(where) }),
    ...(narrowed && { narrowed: narrowed.map((each) => ({ ...each, by: ofRow(each.by) })) }),
    ...(fills && { fills: fills.map((each) => ({ ...each, from: ofRow(each.from) })) }),
    ...rest,
  };
}
