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
  read: (typed) => read(typed.trim() === '' ? null : typed),
  show: showPlain,
  format: showFormatted,
};
