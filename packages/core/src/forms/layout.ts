import { kindOf, type Column } from '../kinds';
import { controlOf } from './controls';
import { isTyped } from '../records';
import {
  isEntry,
  type Block,
  type ColumnsById,
  type FieldBlock,
  type FormDefinition,
} from './definition';

/** A row of the page has this many parts; a field takes some of them. */
export const PAGE_PARTS = 12;
/** A row holds at most so many fields. */
export const MOST_BESIDE = 4;
/** A field is never narrower than this many parts, so that four fit on a row. */
export const LEAST_PARTS = 2;

/** The most characters of typed text that each span shows at once, at the desk's width. */
const SPANS: readonly (readonly [characters: number, span: number])[] = [
  [10, 2],
  [20, 3],
  [32, 4],
  [56, 6],
];

/** A label has some more room than what is typed; the word "required" stands beside it. */
const LABEL_SHARE = 0.6;
const REQUIRED_CHARACTERS = 8;

/** A gap at a row's end is filled by widening its fields, unless it is wider than this. */
const WIDEST_FILLED_GAP = 3;

/**
 * How many parts of the row a field takes where nothing is set: by its kind and by the 95th
 * percentile of the lengths stored so far (0 for none), and wide enough for its label.
 */
export function fieldSpan<F>(field: FieldBlock<F>, column: Column, storedLength: number): number {
  const kind = kindOf(column);
  const control = controlOf(field, column);
  if (control.span !== undefined) return control.span;
  const { choices = [], unit } = column.settings;
  const longestChoice = Math.max(0, ...choices.map((each) => each.length));
  const wanted =
    Math.max(storedLength, kind.typing === 'choice' ? longestChoice : 0) || kind.usualLength;
  const own = Math.max(control.ownCharacters, unit?.length ?? 0);
  const needed = field.required === true ? REQUIRED_CHARACTERS : 0;
  const label = (field.label ?? column.heading).length + needed;
  return Math.max(
    spanFor(wanted + (isTyped(column) ? own : 0)),
    Math.min(4, spanFor(label * LABEL_SHARE)),
  );
}

function spanFor(characters: number): number {
  return SPANS.find(([most]) => characters <= most)?.[1] ?? PAGE_PARTS;
}

/** Something on a row, and how many parts of it it takes. */
export interface PlacedBlock<F> {
  readonly block: Block<F>;
  readonly span: number;
}

/** The blocks of a page, row by row. Fields that stand beside the one before share its row. */
export function rowsOf<F>(
  blocks: readonly Block<F>[],
  spanOf: (field: FieldBlock<F>) => number,
): PlacedBlock<F>[][] {
  const rows: Block<F>[][] = [];
  for (const block of blocks) {
    const row = rows.at(-1);
    const joins = isEntry(block) && block.beside === true && row !== undefined;
    const takes = joins && row.length < MOST_BESIDE && row.every(isEntry);
    if (takes) row.push(block);
    else rows.push([block]);
  }
  return rows.map((row) => fitRow(row, spanOf));
}

/**
 * The spans of a row: those that are set as they are, the others as wide as they call for, made
 * narrower where the row is too short and wider where little is left over.
 */
function fitRow<F>(
  row: readonly Block<F>[],
  spanOf: (field: FieldBlock<F>) => number,
): PlacedBlock<F>[] {
  const wanted = row.map((block) => {
    if (!isEntry(block)) return PAGE_PARTS;
    return block.width ?? (block.is === 'field' ? spanOf(block) : PAGE_PARTS);
  });
  const isFree = row.map((block) => isEntry(block) && block.width === undefined);
  const order = (isWide: boolean): number[] =>
    row
      .map((_, index) => index)
      .filter((index) => isFree[index])
      .sort((a, b) => ((wanted[a] ?? 0) - (wanted[b] ?? 0)) * (isWide ? -1 : 1));
  const used = (): number => wanted.reduce((sum, each) => sum + each, 0);
  while (used() > PAGE_PARTS) {
    const [widest] = order(true).filter((index) => (wanted[index] ?? 0) > LEAST_PARTS);
    // Widths that are set and do not fit give way too, the widest first.
    const at = widest ?? wanted.indexOf(Math.max(...wanted));
    wanted[at] = (wanted[at] ?? 1) - 1;
  }
  const gap = PAGE_PARTS - used();
  const free = order(true);
  if (gap <= WIDEST_FILLED_GAP && free.length > 0) {
    for (let n = 0; n < gap; n += 1) {
      const at = free[n % free.length] ?? 0;
      wanted[at] = (wanted[at] ?? 0) + 1;
    }
  }
  return row.map((block, index) => ({ block, span: wanted[index] ?? PAGE_PARTS }));
}

/** One page of a form: the break that begins it, `null` for the first, and what stands on it. */
export interface FormPage<F> {
  readonly start: Extract<Block<F>, { is: 'page' }> | null;
  readonly blocks: readonly Block<F>[];
}

/** The pages of a form. A break before anything else only gives the first page its title. */
export function pagesOf<F>({ blocks }: FormDefinition<F>): FormPage<F>[] {
  const pages: { start: FormPage<F>['start']; blocks: Block<F>[] }[] = [];
  for (const block of blocks) {
    if (block.is === 'page') pages.push({ start: block, blocks: [] });
    else {
      if (pages.length === 0) pages.push({ start: null, blocks: [] });
      pages.at(-1)?.blocks.push(block);
    }
  }
  return pages.length > 0 ? pages : [{ start: null, blocks: [] }];
}

/**
 * One click: a form with every column of a sheet as a field, in the sheet's order, as many on a
 * row as fit by what the columns hold.
 *
 * @param lengths 95th percentile of the lengths stored, by column id
 */
export function formOfSheet(
  columns: readonly Column[],
  lengths: Readonly<Record<string, number>> = {},
): FormDefinition<never> {
  const fields = columns.map((column): FieldBlock<never> => ({
    is: 'field',
    id: column.id,
    columnId: column.id,
  }));
  return { blocks: flow(fields, new Map(columns.map((each) => [each.id, each])), lengths) };
}

/**
 * Blocks that are added behind others: short fields stand beside the ones before them as far as
 * they fit on a row, as in a form that is made of a sheet.
 *
 * @param held what stands before them on the page
 */
export function flowBehind<F>(
  held: readonly Block<F>[],
  added: readonly Block<F>[],
  columns: ColumnsById,
): Block<F>[] {
  const spanOf = (block: Block<F>): number | null => {
    if (block.is !== 'field') return null;
    const column = columns.get(block.columnId);
    return column ? (block.width ?? fieldSpan(block, column, 0)) : null;
  };
  const begin = held.findLastIndex((block) => !isEntry(block) || block.beside !== true);
  const row = held.slice(Math.max(0, begin)).map(spanOf);
  // Behind what is no field a row begins.
  const isOpen = row.length > 0 && row.every((span) => span !== null);
  let used = isOpen ? row.reduce((sum, span) => sum + span, 0) : PAGE_PARTS;
  let count = row.length;
  return added.map((block) => {
    const span = spanOf(block);
    const fits = span !== null && used + span <= PAGE_PARTS && count < MOST_BESIDE;
    used = span === null ? PAGE_PARTS : fits ? used + span : span;
    count = fits ? count + 1 : 1;
    return fits && isEntry(block) ? { ...block, beside: true as const } : block;
  });
}

/** Puts fields side by side as long as they fit on a row. */
export function flow<F>(
  fields: readonly FieldBlock<F>[],
  columns: ColumnsById,
  lengths: Readonly<Record<string, number>>,
): FieldBlock<F>[] {
  let used = PAGE_PARTS;
  let count = 0;
  return fields.map((field) => {
    const column = columns.get(field.columnId);
    const span = column ? fieldSpan(field, column, lengths[column.id] ?? 0) : PAGE_PARTS;
    const fits = used + span <= PAGE_PARTS && count < MOST_BESIDE;
    used = fits ? used + span : span;
    count = fits ? count + 1 : 1;
    return fits ? { ...field, beside: true as const } : field;
  });
}
