import type { CellValue } from '../values';
import { Told, type Grading, type Scan, type ToldNumbers } from './scan';

/** Columns of more different values have no codes. */
const FEW = 2048;
/** Values that are graded before other work may go between. */
const GRADED_AT_ONCE = 32;
const NOTHING_FOUND: Scan = () => undefined;

/**
 * A column's values as small numbers, while there are few different ones: a choice, a day, a reading
 * of two figures. A test is asked once for each value, and a million records are then gone through
 * by their codes; where no value passes, none is looked at.
 */
export class ValueCodes {
  private codes: Uint16Array;
  /** By code; also of values that were there once. */
  private readonly values: CellValue[] = [null];
  private readonly codeOf = new Map<CellValue, number>([[null, 0]]);

  constructor(capacity: number) {
    this.codes = new Uint16Array(capacity);
  }

  grow(capacity: number): void {
    const codes = new Uint16Array(capacity);
    codes.set(this.codes);
    this.codes = codes;
  }

  /** @param value a text, number, yes/no or blank @returns `false` where there are too many by now */
  put(slot: number, value: CellValue): boolean {
    let code = this.codeOf.get(value);
    if (code === undefined) {
      if (this.values.length >= FEW) return false;
      code = this.values.push(value) - 1;
      this.codeOf.set(value, code);
    }
    this.codes[slot] = code;
    return true;
  }

  /** @param told remembers what was tested of numbers, in columns that show them alike */
  scan(test: (value: CellValue) => boolean, told: ToldNumbers | null): Scan {
    const passes = (value: CellValue): boolean =>
      told && typeof value === 'number' ? told.tell(value) === Told.yes : test(value);
    const verdicts = Uint8Array.from(this.values, (value) => (passes(value) ? 1 : 0));
    if (!verdicts.includes(1)) return NOTHING_FOUND;
    const { codes, values } = this;
    return (slots, from, count, wanted, found) => {
      for (let at = 0; at < count; at += 1) {
        if (wanted[at] === 0 || found[at] === 1) continue;
        const code = codes[slots[from + at] as number] as number;
        // A value may have come since.
        found[at] = verdicts[code] ?? (passes(values[code] ?? null) ? 1 : 0);
      }
    };
  }

  /** In steps. @param gradeOf how many of a row of tests a value passes before it fails one */
  *grading(gradeOf: (value: CellValue) => number): Generator<void, Grading> {
    const { codes, values } = this;
    const known = new Uint16Array(values.length);
    for (let code = 0; code < known.length; code += 1) {
      known[code] = gradeOf(values[code] ?? null);
      if (code % GRADED_AT_ONCE === 0) yield;
    }
    return (slots, from, count, wanted, grades) => {
      for (let at = 0; at < count; at += 1) {
        if (wanted[at] === 0) continue;
        const code = codes[slots[from + at] as number] as number;
        // A value may have come since.
        grades[at] = known[code] ?? gradeOf(values[code] ?? null);
      }
    };
  }
}
