import { read, readDate, showDate } from '../values';
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
  read(typed, { settings }, { locale, now, asWritten }) {
    const shown = readShown(typed, settings.datePattern, locale, now);
    if (shown !== null && Number.isInteger(shown)) return read(shown);
    return readDate(typed, locale, Math.floor(now), { asWritten });
  },
  show: (value, column, locale) =>
    typeof value === 'number' ? showDate(value, locale) : showPlain(value, column, locale),
  format: (value, column, locale) =>
    column.settings.datePattern === undefined
      ? date.show(value, column, locale)
      : showFormatted(value, column, locale),
};
