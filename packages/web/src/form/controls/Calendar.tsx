import { DatePicker } from '@chakra-ui/react';
import { parseDate } from '@internationalized/date';

interface CalendarProps {
  /** ISO 8601, or `null` for none. */
  readonly value: string | null;
  readonly locale: string;
  readonly onPick: (iso: string) => void;
}

/** A month at a time, from which a day is picked. Loaded when it is first opened. */
export default function Calendar({ value, locale, onPick }: CalendarProps) {
  const chosen = value === null ? [] : [parseDate(value)];
  return (
    <DatePicker.Root
      inline
      locale={locale}
      defaultValue={chosen}
      onValueChange={(details) => {
        const [picked] = details.value;
        if (picked) onPick(picked.toString().slice(0, 10));
      }}
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
