import {
  isoMoment,
  plainSigns,
  read,
  readDate,
  readIsoMoment,
  readTime,
  refuse,
  showDate,
  splitMoment,
  type CellValue,
  type LocaleFacts,
  DATE_EXAMPLES,
  quote,
  type DateOrder,
  type Reading,
  type Sentences,
} from '../values';
import { askedIfFar } from './farDate';
import type { Column, Kind, ReadingContext } from './kind';
import { readShown, showFormatted } from './showFormatted';
import { showPlain } from './showPlain';

declare module '../values/problem' {
  interface Problems {
    notAMoment: { readonly text: string; readonly order: DateOrder };
  }
}

export const MOMENT_SENTENCES: Sentences<'notAMoment'> = {
  notAMoment: ({ text, order }) =>
    `${quote(text)} is not a date and time. Write it like ${DATE_EXAMPLES[order].split(' or')[0] ?? ''} 14:05.`,
};

/** Shows a date and the time of day after it, as `date` and `time` would show them. */
export function showMoment(
  value: Exclude<CellValue, null>,
  column: Column,
  locale: LocaleFacts,
): string {
  return typeof value === 'number'
    ? `${showDate(splitMoment(value).day, locale)} ${isoMoment(value).slice(11)}`
    : showPlain(value, column, locale);
}

/** Shows a moment by the column's pattern, or as it reads back. */
export function formatMoment(
  value: Exclude<CellValue, null>,
  column: Column,
  locale: LocaleFacts,
): string {
  return column.settings.datePattern === undefined
    ? showMoment(value, column, locale)
    : showFormatted(value, column, locale);
}

/** A day, and behind it a time of day with its minutes, or a word for one. */
const TIME_BEHIND =
  /^(.*?)[,\sT]+(\d{1,2}[:.h]\d{2}(?::\d{2})?(?: ?[\p{L}.]{1,12})?|noon|midday|midnight)$/iu;

/** A date and a time of day, in the workbook's zone. A date alone is its midnight. */
export const moment: Kind = {
  id: 'moment',
  label: 'Date and time',
  align: 'end',
  filledBy: 'people',
  typing: 'date',
  holds: 'number',
  iso: 'moment',
  usualLength: 16,
  read: (typed, column, context) =>
    askedIfFar(readMoment(typed, column, context), typed, column, context),
  show: showMoment,
  format: formatMoment,
};

function readMoment(
  typed: string,
  { settings }: Column,
  { locale, now, asWritten }: ReadingContext,
): Reading {
  const shown = readShown(typed, settings.datePattern, locale, now);
  if (shown !== null) return read(shown);
  const trimmed = plainSigns(typed).trim();
  const iso = readIsoMoment(trimmed);
  if (iso !== null) return read(iso);
  const today = Math.floor(now);
  const split = TIME_BEHIND.exec(trimmed);
  const day = readDate(split?.[1] ?? trimmed, locale, today, { asWritten });
  const hour = readTime(split?.[2] ?? '0:00', locale);
  if (!day.ok && day.problem.code !== 'notADate') return day;
  if (!day.ok || !hour.ok) {
    return refuse({ code: 'notAMoment', text: trimmed, order: locale.dateOrder });
  }
  return day.value === null ? day : read(Number(day.value) + Number(hour.value));
}
