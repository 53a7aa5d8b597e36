import {
  isoDate,
  isoMoment,
  isoTime,
  readIsoDate,
  readIsoMoment,
  readIsoTime,
  type CellValue,
} from '../values';
import type { Column } from './kind';
import { kindOf } from './table';

const TO_ISO = { date: isoDate, time: isoTime, moment: isoMoment };
const FROM_ISO = { date: readIsoDate, time: readIsoTime, moment: readIsoMoment };

/** A value as the API writes it: serials of dates and times as ISO 8601. */
export function toWire(value: CellValue, column: Pick<Column, 'kind'>): CellValue {
  const iso = kindOf(column).iso;
  return iso !== undefined && typeof value === 'number' ? TO_ISO[iso](value) : value;
}

/** The stored value of what the API wrote. Text that is no ISO 8601 stays the text it is. */
export function fromWire(value: CellValue, column: Pick<Column, 'kind'>): CellValue {
  const iso = kindOf(column).iso;
  return iso !== undefined && typeof value === 'string' ? (FROM_ISO[iso](value) ?? value) : value;
}
