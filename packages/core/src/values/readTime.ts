import type { LocaleFacts } from './locale';
import { read, refuse, type Reading } from './problem';
import { serialOfTime } from './serial';
import { plainSigns } from './signs';

/** Words for times, in hours. */
const WORDS: ReadonlyMap<string, number> = new Map([
  ['noon', 12],
  ['midday', 12],
  ['midnight', 0],
]);

/**
 * Reads a time of day: `14:05`, `14.05`, `14 05`, `1405`, `14`, with seconds, on the twelve-hour
 * clock with am or pm or what the locale writes for them, `noon`. The value is a fraction of a day.
 */
export function readTime(text: string, style?: Pick<LocaleFacts, 'halves'>): Reading {
  const trimmed = withHalf(plainSigns(text).trim().toLowerCase().replace(/\s+/g, ' '), style);
  if (trimmed === '') return read(null);
  const word = WORDS.get(trimmed);
  if (word !== undefined) return read(serialOfTime(word, 0, 0));
  const refused = refuse({ code: 'notATime', text: text.trim() });
  const match =
    /^(\d{1,2})(?:[:.h ](\d{2})(?:[:. ](\d{2}))?)? ?(?:([ap])\.?m?\.?)?$/.exec(trimmed) ??
    /^(\d{1,2})(\d{2})()(?: ?([ap])\.?m?\.?)?$/.exec(trimmed);
  if (!match) return refused;
  const [minutes, seconds] = [Number(match[2] ?? 0), Number(match[3] ?? 0)];
  let hours = Number(match[1]);
  if (match[4] !== undefined) {
    if (hours < 1 || hours > 12) return refused;
    hours = (hours % 12) + (match[4] === 'p' ? 12 : 0);
  }
  return hours > 23 || minutes > 59 || seconds > 59
    ? refused
    : read(serialOfTime(hours, minutes, seconds));
}

/** What the locale writes for before and after noon, before or behind the figures, as `am` or `pm`. */
function withHalf(text: string, style?: Pick<LocaleFacts, 'halves'>): string {
  const bare = text.replace(/\.$/, '');
  const all = Object.entries(style?.halves ?? {})
    .flatMap(([half, names]) => names.map((name) => ({ half, name })))
    .sort((a, b) => b.name.length - a.name.length);
  for (const { half, name } of all) {
    const isAhead = text.startsWith(name);
    if (!isAhead && !bare.endsWith(name)) continue;
    const figures = (isAhead ? text.slice(name.length) : bare.slice(0, -name.length)).trim();
    // Where the clock of twelve hours begins with 0, as 午前0:05.
    return `${/^\P{ASCII}/u.test(name) ? figures.replace(/^0(?=\D|$)/, '12') : figures} ${half}`;
  }
  return text;
}
