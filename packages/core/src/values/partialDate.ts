/** A date of which some is chosen and some is open; `null` is open. */
export interface PartialDate {
  readonly year: number | null;
  readonly month: number | null;
  readonly day: number | null;
}

const PARTIAL = /^(\d{4}|\?{4})-(\d{2}|\?\?)-(\d{2}|\?\?)$/;

/** As ISO 8601 writes a date, with `?` where it is open: `2026-04-??`. Nothing chosen is the empty text. */
export function writePartialDate({ year, month, day }: PartialDate): string {
  if (year === null && month === null && day === null) return '';
  const figures = (value: number | null, width: number): string =>
    value === null ? '?'.repeat(width) : String(value).padStart(width, '0');
  return `${figures(year, 4)}-${figures(month, 2)}-${figures(day, 2)}`;
}

/** The parts of a text that is so written and has some open, else `null`. */
export function readPartialDate(text: string): PartialDate | null {
  const match = PARTIAL.exec(text.trim());
  if (!match || !text.includes('?')) return null;
  const [year = null, month = null, day = null] = match
    .slice(1)
    .map((part) => (part.startsWith('?') ? null : Number(part)));
  return { year, month, day };
}
