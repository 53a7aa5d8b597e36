import { HStack, NativeSelect } from '@chakra-ui/react';
import {
  dateOfSerial,
  daysInMonth,
  kindOf,
  localeFacts,
  readPartialDate,
  serialOfDate,
  typedValue,
  writePartialDate,
  type Limits,
  type PartialDate,
} from '@varn/core';
import { useLocale } from '../localeContext';
import { useNowSerial } from '../nowContext';
import type { ControlProps } from './controlProps';

/** Years offered around the present one where the field has no limits. */
const YEARS_BACK = 120;
const YEARS_ON = 10;

/** How wide each list is at least, so that what is chosen can be read; they wrap where it is narrow. */
const LEAST_PX: Readonly<Record<keyof PartialDate, string>> = {
  day: '84px',
  month: '136px',
  year: '96px',
};

const OPEN: PartialDate = { year: null, month: null, day: null };

/** A date by three lists; the days follow month and year. What is open stands in the text as such. */
export function DateListsControl(props: ControlProps) {
  const { fieldId, column, text, readOnly, required, invalid, labelId, describedBy, onText } =
    props;
  const now = useNowSerial();
  const tag = useLocale();
  const locale = localeFacts(tag);
  const reading = kindOf(column).read(text, column, { locale, now: now() });
  const serial = reading.ok && typeof reading.value === 'number' ? reading.value : null;
  const parts: PartialDate =
    serial === null ? (readPartialDate(text) ?? OPEN) : dateOfSerial(Math.floor(serial));
  const thisYear = dateOfSerial(Math.floor(now())).year;

  const put = (change: Partial<PartialDate>): void => {
    const { year, month, day } = { ...parts, ...change };
    // A day that the month does not have is asked for anew, never another one taken for it.
    const isThere = day !== null && day <= daysOf(year, month);
    if (isThere && year !== null && month !== null) {
      onText(typedValue(serialOfDate({ year, month, day }), column, locale));
    } else onText(writePartialDate({ year, month, day: isThere ? day : null }));
  };
  const months = monthNames(tag);
  const [firstYear, lastYear] = yearsWithin(props.limits, thisYear);
  const lists: readonly [keyof PartialDate, string, readonly (readonly [number, string])[]][] = [
    ['day', 'Day', numbers(1, daysOf(parts.year, parts.month))],
    ['month', 'Month', months],
    ['year', 'Year', numbers(firstYear, lastYear).reverse()],
  ];
  return (
    <HStack
      role="group"
      aria-labelledby={labelId}
      aria-describedby={describedBy}
      gap="1"
      wrap="wrap"
    >
      {lists.map(([part, name, options]) => {
        const isAsked = invalid && parts[part] === null;
        return (
          <NativeSelect.Root
            key={part}
            size="sm"
            w="auto"
            minW={LEAST_PX[part]}
            flex="none"
            disabled={readOnly}
          >
            <NativeSelect.Field
              data-field={fieldId}
              aria-label={name}
              aria-required={required || undefined}
              aria-invalid={isAsked || (invalid && serial !== null) || undefined}
              bg="leaf"
              borderColor={isAsked ? 'madder' : 'edge'}
              fontSize={{ base: '16px', md: '14px' }}
              value={parts[part] ?? ''}
              onChange={({ target }) =>
                put({ [part]: target.value === '' ? null : Number(target.value) })
              }
            >
              <option value="">{name}</option>
              {withOwn(options, parts[part]).map(([value, shown]) => (
                <option key={value} value={value}>
                  {shown}
                </option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        );
      })}
    </HStack>
  );
}

/** The months as the locale writes them at a beginning, as they stand in a list. */
function monthNames(tag: string): (readonly [number, string])[] {
  const format = new Intl.DateTimeFormat(tag, {
    month: 'long',
    calendar: 'gregory',
    timeZone: 'UTC',
  });
  return Array.from({ length: 12 }, (_, n) => {
    const [first = '', ...rest] = format.format(Date.UTC(2026, n, 1));
    return [n + 1, first.toLocaleUpperCase(tag) + rest.join('')];
  });
}

/** The days of a month; while its year is open, of a leap year. */
const daysOf = (year: number | null, month: number | null): number =>
  month === null ? 31 : daysInMonth(year ?? 2000, month);

/** The years a field's limits let through; an open end lies as far from the other as usual. */
function yearsWithin({ from, to }: Limits = {}, thisYear: number): [number, number] {
  const first = from === undefined ? null : dateOfSerial(Math.floor(from)).year;
  const last = to === undefined ? null : dateOfSerial(Math.floor(to)).year;
  return [
    first ?? Math.min(last ?? thisYear, thisYear) - YEARS_BACK,
    last ?? Math.max(first ?? thisYear, thisYear) + YEARS_ON,
  ];
}

const numbers = (from: number, to: number): (readonly [number, string])[] =>
  Array.from({ length: Math.max(0, to - from + 1) }, (_, n) => [from + n, String(from + n)]);

/** What stands there is offered as well, although it may be out of the limits. */
function withOwn(
  options: readonly (readonly [number, string])[],
  own: number | null,
): readonly (readonly [number, string])[] {
  if (own === null || options.some(([value]) => value === own)) return options;
  return [[own, String(own)], ...options];
}
