import type { ChoiceValue, ListItem, ListOrder } from '../kinds';
import { foldText } from '../kinds';
import { isErrorValue, type CellValue } from '../values';

/** A row of what feeds a list: its value, and what is said beside it. */
export interface SourceRow {
  readonly value: CellValue;
  readonly label?: CellValue;
  readonly second?: CellValue;
  readonly by?: readonly CellValue[];
  readonly fills?: readonly CellValue[];
}

/** Makes a text of a value, as people read it. */
export type Show = (value: CellValue) => string;

/** How the rows of a source become the items of a list. */
export interface ListShape {
  readonly order?: ListOrder | undefined;
  /** Values that come before all others. */
  readonly first?: readonly string[];
  /** Match letter case and accents. */
  readonly exact?: boolean;
  readonly show: Show;
  readonly showLabel?: Show | undefined;
  readonly showSecond?: Show | undefined;
  readonly showBy?: readonly Show[];
  /** In which order labels are: of the workbook's locale, 2 before 10. */
  readonly compare: (a: string, b: string) => number;
  /** In how many records a value is stored. */
  readonly uses?: (text: string) => number;
}

/** The most items a list offers, and the longest text of one. */
export const MOST_ITEMS = 50_000;
export const LONGEST_ITEM = 500;

/** Why a row of a source is no item of the list. */
export type Skipped = 'blank' | 'error' | 'long';

const cut = (text: string): string =>
  text.length > LONGEST_ITEM ? `${text.slice(0, LONGEST_ITEM - 1)}…` : text;

/** A row as an item of the list, or why it is none. */
export function itemOf(row: SourceRow, shape: ListShape): ListItem | Skipped {
  const { value } = row;
  if (isErrorValue(value)) return 'error';
  const text = shape.show(value).trim();
  if (text === '' || value === null) return 'blank';
  if (text.length > LONGEST_ITEM) return 'long';
  const say = (part: CellValue | undefined, show: Show | undefined): string =>
    part === undefined || part === null || !show ? '' : cut(show(part).trim());
  const stored: ChoiceValue = typeof value === 'string' ? value.trim() : value;
  const label = say(row.label, shape.showLabel);
  const sorted = label === '' ? value : row.label;
  return {
    value: stored,
    text,
    label: label || text,
    ...(typeof sorted === 'number' && { size: sorted }),
    second: say(row.second, shape.showSecond),
    by: row.by?.map((each, n) => say(each, shape.showBy?.[n])) ?? NOTHING,
    fills: row.fills ?? NOTHING,
  };
}

const NOTHING: readonly never[] = [];

/**
 * What tells items apart: the number 7 is not the text `7`, and a value may go with several others,
 * as ‘Other’ is offered beside each.
 */
export function keyOf({ value, text, by }: ListItem, { exact = false }: ListShape): string {
  const told = typeof value === 'string' ? (exact ? text : foldText(text)) : text;
  return [`${typeof value} ${told}`, ...by.map(foldText)].join('\n');
}

/** Whether two items show and bring the same. */
export function isSameItem(a: ListItem, b: ListItem): boolean {
  return (
    a.value === b.value &&
    a.label === b.label &&
    a.size === b.size &&
    a.second === b.second &&
    a.by.length === b.by.length &&
    a.by.every((each, n) => each === b.by[n]) &&
    a.fills.length === b.fills.length &&
    a.fills.every((each, n) => each === b.fills[n])
  );
}
