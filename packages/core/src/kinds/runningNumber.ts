/**
 * Running numbers: a pattern in which figures stand for the number. `RW-00000` gives `RW-00001`, and
 * goes on past its width: `RW-100000`. Where the figures are no zeros the numbers begin with them:
 * `INV-0041` gives `INV-0041` first.
 */
export const PLAIN_PATTERN = '0';

interface Parts {
  readonly before: string;
  readonly width: number;
  readonly after: string;
  /** The number a column begins with. */
  readonly first: number;
}

/** The last figures that are zeros alone, `000/26`; where there are none the last figures. */
function split(pattern: string): Parts {
  const runs = [...pattern.matchAll(/\d+/g)];
  const run = runs.findLast(([figures]) => /^0+$/.test(figures)) ?? runs.at(-1);
  if (!run) return { before: pattern, width: 1, after: '', first: 1 };
  const [figures] = run;
  const end = run.index + figures.length;
  const first = figures.length > 15 ? 1 : Math.max(1, Number(figures));
  return {
    before: pattern.slice(0, run.index),
    width: figures.length,
    after: pattern.slice(end),
    first,
  };
}

/** Whether a pattern says no number to begin with: its figures are zeros. */
export const isOfZeros = (pattern: string): boolean => /(?:^|\D)0+(?:\D|$)/.test(pattern);

/** The number that a pattern gives first. */
export const firstNumberOf = (pattern: string): number => split(pattern).first;

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

/** The first three numbers of a pattern, as they are written: `A-001, A-002, A-003`. */
export function sayFirstNumbers(pattern: string): string {
  const first = firstNumberOf(pattern);
  return [0, 1, 2].map((more) => formatRunningNumber(pattern, first + more)).join(', ');
}
