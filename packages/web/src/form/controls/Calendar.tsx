import { DatePicker } from '@chakra-ui/react';
import { endOfWeek, parseDate, startOfWeek } from '@internationalized/date';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';

interface CalendarProps {
  /** The day that is chosen, by ISO 8601; `null` for none. */
  readonly value: string | null;
  /** The day that has the focus where none is chosen, by ISO 8601. */
  readonly today: string;
  readonly locale: string;
  readonly onPick: (iso: string) => void;
}

const FOCUSED_DAY = '[data-part=table-cell-trigger][data-focus]';
/** How long another month takes to be drawn. */
const SETTLES_MS = 30;

/**
 * A month at a time, from which a day is picked; the day has the focus at once. Arrows go by day and
 * week, Home and End to the ends of the week, PageUp and PageDown by month, with Shift by year, as
 * the ARIA date picker pattern has it. Loaded when it is first opened.
 */
export default function Calendar({ value, today, locale, onPick }: CalendarProps) {
  const chosen = value === null ? null : parseDate(value);
  const [focused, setFocused] = useState(() => chosen ?? parseDate(today));
  const place = useRef<HTMLDivElement>(null);
  const at = focused.toString();
  useEffect(() => {
    // Another month is drawn a moment later.
    const settled = setTimeout(() => {
      // Drawn into a popup that is still being placed: the page would scroll to where it was.
      place.current?.querySelector<HTMLElement>(FOCUSED_DAY)?.focus({ preventScroll: true });
    }, SETTLES_MS);
    return () => clearTimeout(settled);
  }, [at]);

  useEffect(() => {
    // The day that had the focus goes when another month is drawn: keys pressed meanwhile are its too.
    const forward = (event: globalThis.KeyboardEvent): void => {
      if (document.activeElement !== document.body || !event.isTrusted) return;
      const day = place.current?.querySelector<HTMLElement>(FOCUSED_DAY);
      if (!day) return;
      const { key, shiftKey } = event;
      event.preventDefault();
      day.focus({ preventScroll: true });
      day.dispatchEvent(
        new window.KeyboardEvent('keydown', { key, shiftKey, bubbles: true, cancelable: true }),
      );
    };
    window.addEventListener('keydown', forward);
    return () => window.removeEventListener('keydown', forward);
  }, []);

  const onKeyDown = (event: KeyboardEvent): void => {
    const isDay = (event.target as HTMLElement).dataset['view'] === 'day';
    if (!isDay) return;
    if (event.key === 'Home') setFocused(startOfWeek(focused, locale));
    else if (event.key === 'End') setFocused(endOfWeek(focused, locale));
    // The day that stands in the field can be taken too: nothing changes then but that it closes.
    else if (event.key === 'Enter' || event.key === ' ') onPick(focused.toString());
    else return;
    event.preventDefault();
    event.stopPropagation();
  };

  return (
    <DatePicker.Root
      inline
      ref={place}
      locale={locale}
      defaultValue={chosen ? [chosen] : []}
      focusedValue={focused}
      onFocusChange={(details) =>
        setFocused(parseDate(details.focusedValue.toString().slice(0, 10)))
      }
      onValueChange={(details) => {
        const [picked] = details.value;
        if (picked) onPick(picked.toString().slice(0, 10));
      }}
      onKeyDownCapture={onKeyDown}
    >
      <DatePicker.Content bg="leaf" boxShadow="none" p="0">
        <DatePicker.View view="day">
          <DatePicker.Header />
          <DatePicker.DayTable />
        </DatePicker.View>
        <DatePicker.View view="month">
          <DatePicker.Header />
          <DatePicker.MonthTable />
        </DatePicker.View>
        <DatePicker.View view="year">
          <DatePicker.Header />
          <DatePicker.YearTable />
        </DatePicker.View>
      </DatePicker.Content>
    </DatePicker.Root>
  );
}
