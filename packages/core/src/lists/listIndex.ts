import { foldText, type ChoiceValue, type Listed, type ListItem } from '../kinds';
import { isErrorValue, type CellValue } from '../values';
import { CodeIndex } from './codeIndex';

const NONE: readonly ListItem[] = [];

const put = (map: Map<string, ListItem[]>, key: string, item: ListItem): void => {
  const held = map.get(key);
  if (held) held.push(item);
  else map.set(key, [item]);
};

function take(map: Map<string, ListItem[]>, key: string, item: ListItem): void {
  const left = map.get(key)?.filter((each) => each !== item) ?? [];
  if (left.length > 0) map.set(key, left);
  else map.delete(key);
}

/** Items that are looked through for one that begins as a text does. */
const MOST_LOOKED_AT = 5000;
/** Items that left and are remembered: someone may have chosen one just before. */
const MOST_LEFT = 1000;

const valueKey = (value: ChoiceValue): string => `${typeof value} ${value}`;

/** The items of a list by what people type for them: kept up to date while items come and go. */
export class ListIndex implements Listed {
  private readonly byValue = new Map<string, ListItem[]>();
  private readonly byText = new Map<string, ListItem[]>();
  private readonly byLabel = new Map<string, ListItem[]>();
  private readonly byCode = new CodeIndex<ListItem>(
    () => [...this.byValue.values()].flat(),
    ({ text }) => text,
  );
  /** Items that left, by what was typed for them. */
  private readonly left = new Map<string, ListItem>();
  private readonly fold: (text: string) => string;

  /** @param exact whether letter case and accents tell items apart */
  constructor(items: Iterable<ListItem>, exact = false) {
    this.fold = exact ? (text) => text.trim() : foldText;
    for (const item of items) this.add(item);
  }

  add(item: ListItem): void {
    this.left.delete(this.fold(item.text));
    put(this.byValue, valueKey(item.value), item);
    put(this.byText, this.fold(item.text), item);
    if (item.label !== item.text) put(this.byLabel, this.fold(item.label), item);
    this.byCode.add(item);
  }

  remove(item: ListItem): void {
    take(this.byValue, valueKey(item.value), item);
    take(this.byText, this.fold(item.text), item);
    take(this.byLabel, this.fold(item.label), item);
    this.byCode.remove(item);
    this.leave(item);
  }

  /** Remembers an item that is not on the list any more. */
  leave(item: ListItem): void {
    if (this.left.size >= MOST_LEFT) this.left.clear();
    this.left.set(this.fold(item.text), item);
  }

  meant(typed: string, asWritten: boolean): readonly ListItem[] {
    const folded = this.fold(typed);
    const alike = this.byText.get(folded);
    if (alike) {
      const same = alike.filter(({ text }) => text === typed);
      const isOne = same.length > 0 && same.every(({ value }) => value === same[0]?.value);
      return isOne ? same : alike;
    }
    const labelled = this.byLabel.get(folded);
    if (labelled || asWritten || !/\d/.test(folded)) return labelled ?? [];
    return this.byCode.find(typed);
  }

  holding(value: CellValue): readonly ListItem[] {
    return value === null || isErrorValue(value)
      ? NONE
      : (this.byValue.get(valueKey(value)) ?? NONE);
  }

  gone(typed: string): ListItem | undefined {
    return this.left.get(this.fold(typed));
  }

  near(typed: string): string | null {
    const folded = this.fold(typed);
    // Looked for at each key: in a long list the list itself shows what is near.
    if (folded === '' || this.byText.size > MOST_LOOKED_AT) return null;
    for (const map of [this.byText, this.byLabel]) {
      for (const [key, [item]] of map) if (key.startsWith(folded)) return item?.label ?? null;
    }
    return null;
  }
}
