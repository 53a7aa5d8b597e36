import { groupDigits } from '../format';
import { read } from '../values';
import type { Kind } from './kind';
import { showFormatted } from './showFormatted';
import { showPlain } from './showPlain';

/** Text is kept as typed: leading zeros, inner breaks and all. White space alone is blank. */
export const text: Kind = {
  id: 'text',
  label: 'Text',
  align: 'start',
  filledBy: 'people',
  typing: 'line',
  holds: 'string',
  usualLength: 20,
  tail: 'lengths',
  read(typed, { settings: { digitGroups } }) {
    // Digits in groups are the digits: as they are shown they read back.
    const figures = typed.trim().replace(/ /g, '');
    const isShown = digitGroups && /^\d+$/.test(figures);
    if (isShown && groupDigits(figures, digitGroups) === typed.trim()) return read(figures);
    return read(typed.trim() === '' ? null : typed);
  },
  show: showPlain,
  format: showFormatted,
};
