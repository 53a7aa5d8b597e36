const figures = new Intl.NumberFormat('en');

/** A count as sentences write it: `2,405`. */
export function sayCount(count: number): string {
  return figures.format(count);
}

/** `1 record`, `2,405 records`. */
export function sayCountOf(count: number, one: string, many = `${one}s`): string {
  return `${sayCount(count)} ${count === 1 ? one : many}`;
}

/** Long typed text is quoted only so far that a sentence stays a sentence. */
export function quote(text: string): string {
  const letters = [...text.replace(/\s+/g, ' ')];
  return `‘${letters.length > 30 ? `${letters.slice(0, 29).join('')}…` : letters.join('')}’`;
}
