import {
  foldText,
  showValue,
  splitChoices,
  type Column,
  type ListItem,
  type ReadingContext,
} from '../kinds';
import {
  quote,
  type Cells,
  type CellValue,
  type Problem,
  type Sentences,
  type Strictness,
} from '../values';

declare module '../values/problem' {
  interface Problems {
    goesWithOther: { readonly text: string; readonly heading: string; readonly is: string };
  }
}

export const LIST_SENTENCES: Sentences<'goesWithOther'> = {
  goesWithOther: ({ text, heading, is }) =>
    `${quote(text)} is not on the list while ${heading} is ${quote(is)}. Pick another, or change ${heading}.`,
};

/** What narrows a list in a record: texts of the other columns, blank where they hold nothing. */
export function narrowedBy(
  { settings: { list } }: Column,
  cells: Cells,
  columns: ReadonlyMap<string, Column>,
  { locale }: Pick<ReadingContext, 'locale'>,
): string[] {
  return (list?.narrowed ?? []).map(({ columnId }) => {
    const column = columns.get(columnId);
    return column ? showValue(cells[columnId] ?? null, column, locale).trim() : '';
  });
}

/** The place of the first narrowing that an item does not go with; `null` where it goes with all. */
function against(item: ListItem, texts: readonly string[]): number | null {
  const at = texts.findIndex(
    (text, n) => text !== '' && foldText(text) !== foldText(item.by[n] ?? ''),
  );
  return at < 0 ? null : at;
}

/** The items that go with what the record's other columns hold, each value once. */
export function narrowedItems(
  items: readonly ListItem[],
  texts: readonly string[],
): readonly ListItem[] {
  const seen = new Set<unknown>();
  const going = items.filter((item) => {
    if (against(item, texts) !== null || seen.has(item.value)) return false;
    seen.add(item.value);
    return true;
  });
  return going.length === items.length ? items : going;
}

/**
 * Why a choice does not go with the rest of its record; `null` where it does, or nothing is known.
 * Where it stood there before, and what it goes with is another now, that is only asked about.
 */
export function narrowingDoubt(
  column: Column,
  value: CellValue,
  cells: Cells,
  columns: ReadonlyMap<string, Column>,
  context: ReadingContext,
): { problem: Problem; strictness: Strictness } | null {
  const { list, separator, own } = column.settings;
  const listed = list?.narrowed && context.listed?.(column.id);
  // Where answers of one's own are taken, one may be called as another is elsewhere.
  if (!listed || value === null || own !== undefined) return null;
  const { held } = context;
  const read = [column.id, ...(list.narrowed ?? []).map(({ columnId }) => columnId)];
  if (held && read.every((id) => (held[id] ?? null) === (cells[id] ?? null))) return null;
  const texts = narrowedBy(column, cells, columns, context);
  const chosen =
    column.kind === 'severalChoices' && typeof value === 'string'
      ? splitChoices(value, separator).map((text) => listed.meant(text, true))
      : [listed.holding(value)];
  for (const items of chosen) {
    const [item] = items;
    const places = items.map((each) => against(each, texts));
    const [at = null] = places;
    if (!item || at === null || places.includes(null)) continue;
    const heading = columns.get(list.narrowed[at]?.columnId ?? '')?.heading ?? '';
    const isNew = (held?.[column.id] ?? null) !== value;
    const problem = {
      code: 'goesWithOther',
      text: item.label,
      heading,
      is: texts[at] ?? '',
    } as const;
    return { problem, strictness: list.strictness ?? (isNew ? 'refuse' : 'ask') };
  }
  return null;
}
