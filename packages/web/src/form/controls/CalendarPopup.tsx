import { Popover, Portal } from '@chakra-ui/react';
import { isoDate, readIsoDate } from '@varn/core';
import type { RefObject } from 'react';
import { tabWithin } from '../../ui/tabWithin';
import Calendar from './Calendar';

export interface CalendarPopupProps {
  /** The field it belongs to, which has the focus again when it closes. */
  readonly field: RefObject<HTMLInputElement | null>;
  readonly labelId: string;
  /** The day that stands in the field, and today, as serials. */
  readonly day: number | null;
  readonly today: number;
  readonly locale: string;
  readonly onPick: (day: number) => void;
  readonly onClose: () => void;
}

/** The calendar of a field, under it. Loaded when it is first opened. */
export default function CalendarPopup(props: CalendarPopupProps) {
  const { field, labelId, day, today, locale, onPick, onClose } = props;
  return (
    <Popover.Root
      open
      onOpenChange={(details) => {
        if (!details.open) onClose();
      }}
      positioning={{ getAnchorRect: () => field.current?.getBoundingClientRect() ?? null }}
      autoFocus={false}
    >
      <Portal>
        <Popover.Positioner>
          <Popover.Content
            bg="leaf"
            w="auto"
            p="3"
            aria-labelledby={labelId}
            onKeyDown={(event) => tabWithin(event, event.currentTarget)}
          >
            <Calendar
              value={day === null ? null : isoDate(day)}
              today={isoDate(today)}
              locale={locale}
              onPick={(iso) => {
                const picked = readIsoDate(iso);
                onClose();
                if (picked !== null) onPick(picked);
              }}
            />
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  );
}
