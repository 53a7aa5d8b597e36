import { isErrorValue, NumberPlaces, type CellValue } from '../values';

/** Where each value first stands in a column: numbers as they compare, texts without their case. */
export class FirstPlaces {
  private readonly numbers = new NumberPlaces();
  private readonly others = new Map<string | boolean, number>();

  /** Puts the values of a column in one after the other. */
  put(value: CellValue, position: number): void {
    if (value === null || isErrorValue(value)) return;
    if (typeof value === 'number') {
      this.numbers.put(value, position);
      return;
    }
    const key = keyOf(value);
    if (!this.others.has(key)) this.others.set(key, position);
  }

  find(value: string | number | boolean): number | undefined {
    return typeof value === 'number' ? this.numbers.find(value) : this.others.get(keyOf(value));
  }
}

const keyOf = (value: string | boolean): string | boolean =>
  typeof value === 'string' ? value.toLowerCase() : value;
