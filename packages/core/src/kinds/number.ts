import type { Kind } from './kind';
import { readMeasured } from './measured';
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
  read: (typed, column, { locale }) => readMeasured(typed, column, locale),
  show: showPlain,
  format: showFormatted,
};
