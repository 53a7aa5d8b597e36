import { isoTime, read, readTime } from '../values';
import type { Kind } from './kind';
import { readShown, showFormatted } from './showFormatted';
import { showPlain } from './showPlain';

export const time: Kind = {
  id: 'time',
  label: 'Time',
  align: 'end',
  filledBy: 'people',
  typing: 'time',
  holds: 'number',
  iso: 'time',
  usualLength: 5,
  read(typed, { settings }, { locale, now }) {
    const shown = readShown(typed, settings.datePattern, locale, now);
    return shown !== null && shown < 1 ? read(shown) : readTime(typed, locale);
  },
  show: (value, column, locale) =>
    typeof value === 'number' ? isoTime(value) : showPlain(value, column, locale),
  format: (value, column, locale) =>
    column.settings.datePattern === undefined
      ? time.show(value, column, locale)
      : showFormatted(value, column, locale),
};
