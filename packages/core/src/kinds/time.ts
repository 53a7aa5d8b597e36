import { isoTime, readTime } from '../values';
import type { Kind } from './kind';
import { showFormatted } from './showFormatted';
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
  read: (typed) => readTime(typed),
  show: (value, column, locale) =>
    typeof value === 'number' ? isoTime(value) : showPlain(value, column, locale),
  format: (value, column, locale) =>
    column.settings.datePattern === undefined
      ? time.show(value, column, locale)
      : showFormatted(value, column, locale),
};
