import { kindOf, type Column } from '../kinds';
import { isTyped, labelOf, type FormField } from './definition';

/** A row of the page has this many parts; a field takes some of them. */
export const PAGE_PARTS = 12;

/** The most characters of typed text that each span shows at once, at the desk's width. */
const SPANS: readonly (readonly [characters: number, span: number])[] = [
  [10, 2],
  [20, 3],
  [32, 4],
  [56, 6],
];

/** Beside what is typed, a control takes this many characters for its own parts. */
const CONTROL_CHARACTERS: Readonly<Record<string, number>> = { choice: 4, yesNo: 6 };

/** A label has some more room than what is typed; the word "required" stands beside it. */
const LABEL_SHARE = 0.6;
const REQUIRED_CHARACTERS = 8;

/** A gap at a row's end is filled by widening its fields, unless it is wider than this. */
const WIDEST_FILLED_GAP = 3;

/**
 * How many parts of the row a field takes: by its kind and by the 95th percentile of the lengths
 * stored so far (0 for none), and wide enough for its label.
 */
export function fieldSpan(field: FormField, column: Column, storedLength: number): number {
  if (field.several === true) return 6;
  const kind = kindOf(column);
  const longestChoice = Math.max(0, ...(column.settings.choices ?? []).map((each) => each.length));
  const wanted =
    Math.max(storedLength, kind.control === 'choice' ? longestChoice : 0) || kind.usualLength;
  const own = CONTROL_CHARACTERS[kind.control] ?? column.settings.unit?.length ?? 0;
  const label = labelOf(field, column).length + (field.required === true ? REQUIRED_CHARACTERS : 0);
  return Math.max(
    spanFor(wanted + (isTyped(column) ? own : 0)),
    Math.min(4, spanFor(label * LABEL_SHARE)),
  );
}

function spanFor(characters: number): number {
  return SPANS.find(([most]) => characters <= most)?.[1] ?? PAGE_PARTS;
}

/**
 * Fills the rows that fields of these spans make: each row's fields are widened, the widest
 * first, until it ends where the page does. A row that is half empty is left as it is.
 */
export function fillRows(spans: readonly number[]): number[] {
  const filled: number[] = [];
  let row: number[] = [];
  const endRow = (): void => {
    const gap = PAGE_PARTS - row.reduce((sum, span) => sum + span, 0);
    const byWidth = row.map((_, index) => index).sort((a, b) => (row[b] ?? 0) - (row[a] ?? 0));
    for (let n = 0; gap <= WIDEST_FILLED_GAP && n < gap; n += 1) {
      const at = byWidth[n % byWidth.length] ?? 0;
      row[at] = (row[at] ?? 0) + 1;
    }
    filled.push(...row);
    row = [];
  };
  for (const span of spans) {
    if (row.reduce((sum, each) => sum + each, 0) + span > PAGE_PARTS) endRow();
    row.push(span);
  }
  if (row.length > 0) endRow();
  return filled;
}
