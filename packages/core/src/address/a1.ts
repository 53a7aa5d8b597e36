/** The letters of a column: 0 is `A`, 25 is `Z`, 26 is `AA`. */
export function columnLetters(index: number): string {
  let letters = '';
  for (let n = index + 1; n > 0; n = Math.floor((n - 1) / 26)) {
    letters = String.fromCharCode(65 + ((n - 1) % 26)) + letters;
  }
  return letters;
}

/** The index of a column's letters, counted from 0, or `null` where they are no column's. */
export function columnIndex(letters: string): number | null {
  if (!/^[A-Za-z]{1,4}$/.test(letters)) return null;
  return (
    [...letters.toUpperCase()].reduce((n, letter) => n * 26 + letter.charCodeAt(0) - 64, 0) - 1
  );
}

export interface CellAddress {
  /** Counted from 0. */
  readonly column: number;
  /** Counted from 1, as people read it. */
  readonly row: number;
}

/** Reads an A1 address such as `AB12`; `null` where it is none. */
export function parseAddress(text: string): CellAddress | null {
  const match = /^([A-Za-z]{1,4})([1-9]\d{0,6})$/.exec(text);
  const column = match ? columnIndex(match[1] ?? '') : null;
  return match && column !== null ? { column, row: Number(match[2]) } : null;
}

export function formatAddress({ column, row }: CellAddress): string {
  return `${columnLetters(column)}${row}`;
}
