/** ISO 8601 calendar dates and times of day, without a zone: what the API and files speak. */
import {
  dateOfSerial,
  daysInMonth,
  secondsOfSerial,
  serialOfDate,
  serialOfTime,
  splitMoment,
} from './serial';

const two = (n: number): string => String(n).padStart(2, '0');

export function isoDate(serial: number): string {
  const { year, month, day } = dateOfSerial(serial);
  return `${String(year).padStart(4, '0')}-${two(month)}-${two(day)}`;
}

function isoSeconds(seconds: number): string {
  const text = `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}`;
  return seconds % 60 === 0 ? text : `${text}:${two(seconds % 60)}`;
}

export function isoTime(serial: number): string {
  return isoSeconds(secondsOfSerial(serial));
}

export function isoMoment(serial: number): string {
  const { day, seconds } = splitMoment(serial);
  return `${isoDate(day)}T${isoSeconds(seconds)}`;
}

const DATE = /^(\d{4})-(\d{2})-(\d{2})$/;
const TIME = /^(\d{2}):(\d{2})(?::(\d{2}))?$/;

/** The serial, or `null` where the text is not exactly an ISO 8601 date that exists. */
export function readIsoDate(text: string): number | null {
  const match = DATE.exec(text);
  if (!match) return null;
  const [year, month, day] = [Number(match[1]), Number(match[2]), Number(match[3])];
  return year >= 1 && month >= 1 && month <= 12 && day >= 1 && day <= daysInMonth(year, month)
    ? serialOfDate({ year, month, day })
    : null;
}

export function readIsoTime(text: string): number | null {
  const match = TIME.exec(text);
  if (!match) return null;
  const [hours, minutes, seconds] = [Number(match[1]), Number(match[2]), Number(match[3] ?? 0)];
  return hours < 24 && minutes < 60 && seconds < 60 ? serialOfTime(hours, minutes, seconds) : null;
}

export function readIsoMoment(text: string): number | null {
  const date = readIsoDate(text.slice(0, 10));
  const time = text[10] === 'T' ? readIsoTime(text.slice(11)) : null;
  return date === null || time === null ? null : date + time;
}
