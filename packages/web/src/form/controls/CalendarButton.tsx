import { Box, IconButton, Popover, Portal } from '@chakra-ui/react';
import { isoDate, readIsoDate } from '@varn/core';
import { CalendarDays } from 'lucide-react';
import { lazy, Suspense, type RefObject } from 'react';

const Calendar = lazy(() => import('./Calendar'));

interface CalendarButtonProps {
  readonly open: boolean;
  readonly onOpen: (open: boolean) => void;
  /** The field it belongs to, which has the focus again when it closes. */
  readonly field: RefObject<HTMLInputElement | null>;
  readonly labelId: string;
  readonly readOnly: boolean;
  /** The day that stands in the field, and today, as serials. */
  readonly day: number | null;
  readonly today: number;
  readonly locale: string;
  readonly onPick: (day: number) => void;
}

/** Opens the calendar of a field. */
export function CalendarButton(props: CalendarButtonProps) {
  const { open, onOpen, field, labelId, readOnly, day, today, locale, onPick } = props;
  return (
    <Popover.Root
      open={open}
      onOpenChange={(details) => onOpen(details.open)}
      finalFocusEl={() => field.current}
      autoFocus={false}
      lazyMount
      unmountOnExit
    >
      <Popover.Trigger asChild>
        <IconButton
          size="2xs"
          variant="ghost"
          tabIndex={-1}
          disabled={readOnly}
          aria-label="Pick from a calendar"
        >
          <CalendarDays size={14} />
        </IconButton>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content bg="leaf" w="auto" p="3" aria-labelledby={labelId}>
            <Suspense fallback={<Box w="64" h="64" />}>
              <Calendar
                value={day === null ? null : isoDate(day)}
                today={isoDate(today)}
                locale={locale}
                onPick={(iso) => {
                  const picked = readIsoDate(iso);
                  onOpen(false);
                  if (picked !== null) onPick(picked);
                }}
              />
            </Suspense>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  );
}
