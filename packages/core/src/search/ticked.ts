import type { Column } from '../kinds';
import { isTextual } from './condition';

/** Values that were ticked, as they are shown, and whether blank ones are wanted too. */
export interface Ticked {
  readonly texts: readonly string[];
  readonly blank: boolean;
}

export const NOTHING_TICKED: Ticked = { texts: [], blank: false };

/** A text in a condition as just that text, whatever signs it holds. */
export const inQuotes = (text: string): string => `"${text.replaceAll('"', '""')}"`;

const BLANK = 'blank';
const PART = /^(?:= )?"((?:[^"]|"")+)"$|^blank$/;

/** The condition that holds just these values; '' where none is ticked. */
export function sayTicked({ texts, blank }: Ticked, column: Column): string {
  // Without the sign a text would be found inside of others; of several choices, each counts.
  const sign = isTextual(column) && column.kind !== 'severalChoices' ? '= ' : '';
  return [...texts.map((text) => sign + inQuotes(text)), ...(blank ? [BLANK] : [])].join(', ');
}

/** What a condition ticks; `null` where it says anything else. */
export function readTicked(says: string): Ticked | null {
  if (says.trim() === '') return NOTHING_TICKED;
  const parts = (says.match(/("[^"]*"|[^,"])+/g) ?? []).map((part) => part.trim());
  const texts: string[] = [];
  for (const part of parts) {
    const read = PART.exec(part);
    if (!read) return null;
    if (read[1] !== undefined) texts.push(read[1].replaceAll('""', '"'));
  }
  return { texts, blank: parts.includes(BLANK) };
}
