import { HStack, NativeSelect } from '@chakra-ui/react';
import {
  dateOfSerial,
  daysInMonth,
  kindOf,
  localeFacts,
  serialOfDate,
  typedValue,
} from '@varn/core';
import { useState } from 'react';
import { useLocale } from '../localeContext';
import { useNowSerial } from '../nowContext';
import type { ControlProps } from './controlProps';

/** Years offered around the present one. */
const YEARS_BACK = 120;
const YEARS_ON = 10;

interface Parts {
  readonly day: string;
  readonly month: string;
  readonly year: string;
}

/** A date by three lists; the days follow month and year. */
export function DateListsControl(props: ControlProps) {
  const { fieldId, column, text, readOnly, required, invalid, labelId, describedBy, onText } =
    props;
  const tag = useLocale();
  const now = useNowSerial();
  const locale = localeFacts(tag);
  // What is chosen while it is no whole date yet.
  const [begun, setBegun] = useState<Parts | null>(null);
  const reading = kindOf(column).read(text, column, { locale, now: now() });
  const serial = reading.ok && typeof reading.value === 'number' ? reading.value : null;
  const whole = serial === null ? null : dateOfSerial(Math.floor(serial));
  const parts: Parts =
    begun && text === ''
      ? begun
      : {
          day: whole ? String(whole.day) : '',
          month: whole ? String(whole.month) : '',
          year: whole ? String(whole.year) : '',
        };
  const days =
    parts.month === '' ? 31 : daysInMonth(Number(parts.year || 2000), Number(parts.month));
  const thisYear = dateOfSerial(Math.floor(now())).year;

  const put = (change: Partial<Parts>): void => {
    const next = { ...parts, ...change };
    const most =
      next.month === '' ? 31 : daysInMonth(Number(next.year || 2000), Number(next.month));
    const day = next.day === '' ? '' : String(Math.min(Number(next.day), most));
    if (day === '' || next.month === '' || next.year === '') {
      setBegun({ ...next, day });
      if (text !== '') onText('');
      return;
    }
    setBegun(null);
    const date = { year: Number(next.year), month: Number(next.month), day: Number(day) };
    onText(typedValue(serialOfDate(date), column, locale));
  };
  const months = locale.months.map(([long = ''], n) => [String(n + 1), long] as const);
  const numbers = (from: number, to: number): (readonly [string, string])[] =>
    Array.from({ length: Math.abs(to - from) + 1 }, (_, n) => {
      const each = String(from + (to > from ? n : -n));
      return [each, each] as const;
    });
  const lists: readonly [keyof Parts, string, readonly (readonly [string, string])[]][] = [
    ['day', 'Day', numbers(1, days)],
    ['month', 'Month', months],
    ['year', 'Year', numbers(thisYear + YEARS_ON, thisYear - YEARS_BACK)],
  ];
  return (
    <HStack role="group" aria-labelledby={labelId} aria-describedby={describedBy} gap="1">
      {lists.map(([part, name, options]) => (
        <NativeSelect.Root key={part} size="sm" w="auto" disabled={readOnly}>
          <NativeSelect.Field
            data-field={fieldId}
            aria-label={name}
            aria-required={required || undefined}
            aria-invalid={invalid || undefined}
            bg="leaf"
            borderColor={invalid ? 'madder' : 'edge'}
            fontSize={{ base: '16px', md: '14px' }}
            value={parts[part]}
            onChange={(event) => put({ [part]: event.target.value })}
          >
            <option value="">{name}</option>
            {options.map(([value, shown]) => (
              <option key={value} value={value}>
                {shown}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      ))}
    </HStack>
  );
}
