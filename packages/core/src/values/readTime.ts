import { read, refuse, type Reading } from './problem';
import { serialOfTime } from './serial';

/**
 * Reads a time of day: `14:05`, `14.05`, `1405`, `14`, with seconds, or on the twelve-hour
 * clock with am or pm. The value is a fraction of a day.
 */
export function readTime(text: string): Reading {
  const trimmed = text.trim().toLowerCase();
  if (trimmed === '') return read(null);
  const refused = refuse({ code: 'notATime', text: text.trim() });
  const match =
    /^(\d{1,2})(?:[:.h](\d{2})(?:[:.](\d{2}))?)? ?(?:([ap])\.?m?\.?)?$/.exec(trimmed) ??
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
