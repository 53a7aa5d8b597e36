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
