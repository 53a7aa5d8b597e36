import { isErrorValue, type CellValue } from '../values';

/** What a slot holds. */
const Tag = { blank: 0, number: 1, text: 2, yesNo: 3, error: 4 } as const;
type Tag = (typeof Tag)[keyof typeof Tag];

/**
 * One column's values by slot: a tag and a double each, and texts by dictionary, so that a
 * million records take megabytes and a scan runs over flat arrays.
 */
export class ColumnStore {
  private tags: Uint8Array;
  private numbers: Float64Array;
  private readonly texts: string[] = [];
  private readonly indexOfText = new Map<string, number>();

  constructor(capacity: number) {
    this.tags = new Uint8Array(capacity);
    this.numbers = new Float64Array(capacity);
  }

  grow(capacity: number): void {
    const tags = new Uint8Array(capacity);
    tags.set(this.tags);
    this.tags = tags;
    const numbers = new Float64Array(capacity);
    numbers.set(this.numbers);
    this.numbers = numbers;
  }

  get(slot: number): CellValue {
    const held = this.numbers[slot] ?? 0;
    switch (this.tags[slot]) {
      case Tag.number:
        return held;
      case Tag.text:
        return this.texts[held] ?? null;
      case Tag.yesNo:
        return held === 1;
      case Tag.error:
        return { error: this.texts[held] ?? '' };
      default:
        return null;
    }
  }

  set(slot: number, value: CellValue): void {
    if (value === null) this.put(slot, Tag.blank, 0);
    else if (typeof value === 'number') this.put(slot, Tag.number, value);
    else if (typeof value === 'string') this.put(slot, Tag.text, this.textIndex(value));
    else if (isErrorValue(value)) this.put(slot, Tag.error, this.textIndex(value.error));
    else this.put(slot, Tag.yesNo, value ? 1 : 0);
  }

  private put(slot: number, tag: Tag, held: number): void {
    this.tags[slot] = tag;
    this.numbers[slot] = held;
  }

  private textIndex(text: string): number {
    let index = this.indexOfText.get(text);
    if (index === undefined) {
      index = this.texts.push(text) - 1;
      this.indexOfText.set(text, index);
    }
    return index;
  }
}
