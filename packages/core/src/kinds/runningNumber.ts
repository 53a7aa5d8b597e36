/**
 * Running numbers: a pattern whose last run of zeros stands for the figures. `RW-00000` gives
 * `RW-00001`, and goes on past its width: `RW-100000`.
 */
export const PLAIN_PATTERN = '0';

function split(pattern: string): { before: string; width: number; after: string } {
  const match = /^(.*?)(0+)([^0]*)$/s.exec(pattern);
  return match
    ? { before: match[1] ?? '', width: (match[2] ?? '').length, after: match[3] ?? '' }
    : { before: pattern, width: 1, after: '' };
}

export function formatRunningNumber(pattern: string, number: number): string {
  const { before, width, after } = split(pattern);
  return `${before}${String(number).padStart(width, '0')}${after}`;
}

/** The number in a text of the pattern, or `null` where the text is not of it. */
export function parseRunningNumber(pattern: string, text: string): number | null {
  const { before, after } = split(pattern);
  if (!text.startsWith(before) || !text.endsWith(after)) return null;
  const figures = text.slice(before.length, text.length - after.length);
  return /^\d{1,15}$/.test(figures) ? Number(figures) : null;
}

/** The last figures of a text as a number, and the pattern by which the text is written. */
export function runningNumberIn(text: string): { number: number; pattern: string } | null {
  const match = /^(.*?)(\d{1,15})(\D*)$/s.exec(text);
  if (!match) return null;
  const [, before = '', figures = '', after = ''] = match;
  return { number: Number(figures), pattern: `${before}${'0'.repeat(figures.length)}${after}` };
}
