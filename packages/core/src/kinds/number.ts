import { readNumber } from '../values';
import type { Kind } from './kind';
import { showFormatted } from './showFormatted';
import { showPlain } from './showPlain';

export const number: Kind = {
  id: 'number',
  label: 'Number',
  align: 'end',
  filledBy: 'people',
  typing: 'number',
  holds: 'number',
  usualLength: 6,
  read: (typed, _column, { locale }) => readNumber(typed, locale),
  show: showPlain,
  format: showFormatted,
};
