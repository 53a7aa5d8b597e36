import { IconButton } from '@chakra-ui/react';
import { CalendarDays } from 'lucide-react';
import { later } from '../../ui/later';
import type { CalendarPopupProps } from './CalendarPopup';

const calendar = later(async () => (await import('./CalendarPopup')).default);

/** Has the calendar at hand before it is opened. */
export const loadCalendar = calendar.load;

interface CalendarButtonProps extends Omit<CalendarPopupProps, 'onClose'> {
  readonly open: boolean;
  readonly onOpen: (open: boolean) => void;
  readonly readOnly: boolean;
}

/** Opens the calendar of a field. */
export function CalendarButton({ open, onOpen, readOnly, ...popup }: CalendarButtonProps) {
  const close = (): void => {
    onOpen(false);
    popup.field.current?.focus();
  };
  return (
    <>
      <IconButton
        size="2xs"
        variant="ghost"
        tabIndex={-1}
        disabled={readOnly}
        aria-label="Pick from a calendar"
        aria-expanded={open}
        onPointerEnter={loadCalendar}
        onClick={() => onOpen(!open)}
      >
        <CalendarDays size={14} />
      </IconButton>
      {open && <calendar.Part {...popup} onClose={close} />}
    </>
  );
}
