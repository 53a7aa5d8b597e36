import { read, readDate, showDate } from '../values';
import { askedIfFar } from './farDate';
import type { Kind } from './kind';
import { readShown, showFormatted } from './showFormatted';
import { showPlain } from './showPlain';

export const date: Kind = {
  id: 'date',
  label: 'Date',
  align: 'end',
  filledBy: 'people',
  typing: 'date',
  holds: 'number',
  iso: 'date',
  usualLength: 10,
  read(typed, column, context) {
    const { locale, now, asWritten } = context;
    const shown = readShown(typed, column.settings.datePattern, locale, now);
    const reading =
      shown !== null && Number.isInteger(shown)
        ? read(shown)
        : readDate(typed, locale, Math.floor(now), { asWritten });
    return askedIfFar(reading, typed, column, context);
  },
  show: (value, column, locale) =>
    typeof value === 'number' ? showDate(value, locale) : showPlain(value, column, locale),
  format: (value, column, locale) =>
    column.settings.datePattern === undefined
      ? date.show(value, column, locale)
      : showFormatted(value, column, locale),
};
