import { isErrorValue, type CellValue, type ErrorValue } from '../values';
import { FigureSum, type ColumnFigures } from './figures';
import {
  NEVER_SURE,
  Told,
  type Grading,
  type KnownOfNumbers,
  type Scan,
  type Sure,
  type ToldNumbers,
} from './scan';
import { ValueCodes } from './valueCodes';

/** What a slot holds. */
const Tag = { blank: 0, number: 1, text: 2, yesNo: 3, error: 4 } as const;
type Tag = (typeof Tag)[keyof typeof Tag];

/** Up to so many different texts it is remembered of each what was told of it. */
const MOST_TOLD = 1 << 16;

/** Slots that are added up together. */
const PIECE = 1024;

/**
 * One column's values by slot: a tag and a double each, and texts by dictionary, so that a
 * million records take megabytes and a scan runs over flat arrays.
 */
export class ColumnStore {
  private tags: Uint8Array;
  private numbers: Float64Array;
  private readonly texts: string[] = [];
  private readonly indexOfText = new Map<string, number>();
  /** What each piece of slots comes to; `undefined` where something in it has changed. */
  private pieces: (FigureSum | undefined)[] = [];
  private summed: ColumnFigures | undefined;
  /** Its values as codes; `null` once there are many different ones. */
  private codes: ValueCodes | null;
  /** Rises with each change, so that what was derived from the values can be told as stale. */
  version = 0;

  constructor(capacity: number) {
    this.tags = new Uint8Array(capacity);
    this.numbers = new Float64Array(capacity);
    this.codes = new ValueCodes(capacity);
  }

  grow(capacity: number): void {
    this.summed = undefined;
    this.pieces.length = Math.floor(this.tags.length / PIECE);
    const tags = new Uint8Array(capacity);
    tags.set(this.tags);
    this.tags = tags;
    const numbers = new Float64Array(capacity);
    numbers.set(this.numbers);
    this.numbers = numbers;
    this.codes?.grow(capacity);
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
        return JSON.parse(this.texts[held] ?? '') as ErrorValue;
      default:
        return null;
    }
  }

  /**
   * Looks through values, each different text once. To be used for one pass over the records.
   *
   * @param known what is known of numbers without the test
   */
  scan(test: (value: CellValue) => boolean, known: KnownOfNumbers = {}): Scan {
    const { told = null, sure = NEVER_SURE } = known;
    if (this.codes) return this.codes.scan(test, told);
    const look: Look = {
      tags: this.tags,
      held: this.numbers,
      ofText: this.texts.length <= MOST_TOLD ? new Uint8Array(this.texts.length) : null,
      sure,
      told,
      ofBlank: test(null) ? 1 : 0,
      testNumber: test,
      testText: (index) => test(this.texts[index] ?? null),
      testSlot: (slot) => test(this.get(slot)),
    };
    return (slots, from, count, wanted, found) =>
      lookThrough(look, slots, from, count, wanted, found);
  }

  /**
   * Holds values against a row of tests at once, each different text once as far as there are not
   * too many. To be used for one pass over the records; made ready in steps.
   *
   * @param gradeOf how many of the tests a value passes before it fails one
   */
  *grading(gradeOf: (value: CellValue) => number): Generator<void, Grading> {
    if (this.codes) return yield* this.codes.grading(gradeOf);
    const { tags, numbers, texts } = this;
    /** By text: one more than its grade; 0 where it is not known yet. */
    const known = texts.length <= MOST_TOLD ? new Uint16Array(texts.length) : null;
    return (slots, from, count, wanted, grades) => {
      for (let at = 0; at < count; at += 1) {
        if (wanted[at] === 0) continue;
        const slot = slots[from + at] as number;
        if (known === null || tags[slot] !== Tag.text) {
          grades[at] = gradeOf(this.get(slot));
          continue;
        }
        const text = numbers[slot] as number;
        let grade = known[text] ?? 0;
        if (grade === 0) {
          grade = gradeOf(texts[text] ?? null) + 1;
          known[text] = grade;
        }
        grades[at] = grade - 1;
      }
    };
  }

  /** Puts a value, and tells whether another one stood there. */
  set(slot: number, value: CellValue): boolean {
    if (value === null) return this.put(slot, Tag.blank, 0);
    if (typeof value === 'number') return this.put(slot, Tag.number, value);
    if (typeof value === 'string') return this.put(slot, Tag.text, this.textIndex(value));
    if (isErrorValue(value)) {
      return this.put(slot, Tag.error, this.textIndex(JSON.stringify(value)));
    }
    return this.put(slot, Tag.yesNo, value ? 1 : 0);
  }

  /** All numbers, by slot. */
  numbersHeld(): Float64Array {
    const { tags, numbers } = this;
    const held = new Float64Array(this.figures().numbers);
    let count = 0;
    for (let slot = 0; slot < tags.length; slot += 1) {
      if (tags[slot] === Tag.number) held[count++] = numbers[slot] as number;
    }
    return held;
  }

  /** The figures of all slots; only pieces that changed are added up again. */
  figures(): ColumnFigures {
    if (this.summed) return this.summed;
    const total = new FigureSum();
    for (let piece = 0; piece * PIECE < this.tags.length; piece += 1) {
      total.join((this.pieces[piece] ??= this.sumPiece(piece)));
    }
    this.summed = total;
    return total;
  }

  private sumPiece(piece: number): FigureSum {
    const sum = new FigureSum();
    const end = Math.min(this.tags.length, (piece + 1) * PIECE);
    for (let slot = piece * PIECE; slot < end; slot += 1) {
      const tag = this.tags[slot];
      if (tag === Tag.number) sum.addNumber(this.numbers[slot] ?? 0);
      else if (tag !== Tag.blank) {
        sum.filled += 1;
        if (tag === Tag.error) sum.errors += 1;
      }
    }
    return sum;
  }

  private put(slot: number, tag: Tag, held: number): boolean {
    if (this.tags[slot] === tag && this.numbers[slot] === held) return false;
    this.version += 1;
    this.pieces[Math.floor(slot / PIECE)] = undefined;
    this.summed = undefined;
    this.tags[slot] = tag;
    this.numbers[slot] = held;
    if (this.codes && (tag === Tag.error || !this.codes.put(slot, this.get(slot)))) {
      this.codes = null;
    }
    return true;
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

/** A column that is gone through, and what its values are held against. */
interface Look {
  readonly tags: Uint8Array;
  readonly held: Float64Array;
  /** What is told of texts, by their index; `null` where there are too many. */
  readonly ofText: Uint8Array | null;
  readonly sure: Sure;
  readonly told: ToldNumbers | null;
  readonly ofBlank: number;
  readonly testNumber: (value: number) => boolean;
  readonly testText: (index: number) => boolean;
  readonly testSlot: (slot: number) => boolean;
}

/**
 * Marks the records whose value passes. A function of its own, and one long loop, as a million
 * records go through it at each key: numbers are tested only where nothing is known of them.
 */
function lookThrough(
  look: Look,
  slots: Int32Array,
  from: number,
  count: number,
  wanted: Uint8Array,
  found: Uint8Array,
): void {
  const { tags, held, ofText, told } = look;
  const { noUnder, noOver, yesOver, yesUnder } = look.sure;
  for (let at = 0; at < count; at += 1) {
    if (wanted[at] === 0 || found[at] === 1) continue;
    const slot = slots[from + at] as number;
    const value = held[slot] as number;
    const tag = tags[slot];
    if (tag === Tag.number) {
      if (value < noUnder || value > noOver) continue;
      if (value > yesOver && value < yesUnder) found[at] = 1;
      else if (told === null) found[at] = look.testNumber(value) ? 1 : 0;
      else found[at] = told.tell(value) === Told.yes ? 1 : 0;
    } else if (tag === Tag.text) {
      if (ofText === null) found[at] = look.testText(value) ? 1 : 0;
      else {
        if (ofText[value] === Told.notYet) {
          ofText[value] = look.testText(value) ? Told.yes : Told.no;
        }
        if (ofText[value] === Told.yes) found[at] = 1;
      }
    } else found[at] = tag === Tag.blank ? look.ofBlank : look.testSlot(slot) ? 1 : 0;
  }
}
