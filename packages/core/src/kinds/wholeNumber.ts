import { refuse } from '../values';
import type { Kind } from './kind';
import { readMeasured } from './measured';
import { showFormatted } from './showFormatted';
import { showPlain } from './showPlain';

export const wholeNumber: Kind = {
  id: 'wholeNumber',
  label: 'Whole number',
  align: 'end',
  filledBy: 'people',
  typing: 'number',
  holds: 'number',
  usualLength: 6,
  read(typed, column, { locale }) {
    const reading = readMeasured(typed, column, locale);
    return !reading.ok || reading.value === null || Number.isInteger(reading.value)
      ? reading
      : refuse({ code: 'notWhole', text: typed.trim() });
  },
  show: showPlain,
  format: showFormatted,
};
