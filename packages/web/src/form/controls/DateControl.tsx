import { Box, Button, IconButton, Input, InputGroup, Popover, Portal } from '@chakra-ui/react';
import { isoDate, kindOf, localeFacts, readIsoDate, typedValue } from '@varn/core';
import { CalendarDays } from 'lucide-react';
import { lazy, Suspense, useRef, useState, type KeyboardEvent } from 'react';
import { useLocale } from '../localeContext';
import { useNowSerial } from '../nowContext';
import { inputProps, type ControlProps } from './controlProps';

const Calendar = lazy(() => import('./Calendar'));

/** By the key, not the letter: with Alt some keyboards type another one. */
const isNowKey = ({ altKey, code }: KeyboardEvent): boolean => altKey && code === 'KeyT';

interface NowButtonProps {
  readonly word: 'Now' | 'Today';
  readonly readOnly: boolean;
  readonly onNow: () => void;
}

/** Puts in what it is now; by keys Alt+T does. */
function NowButton({ word, readOnly, onNow }: NowButtonProps) {
  return (
    <Button
      size="2xs"
      variant="ghost"
      color="ink.soft"
      tabIndex={-1}
      disabled={readOnly}
      title={`${word} (Alt+T)`}
      onClick={onNow}
    >
      {word}
    </Button>
  );
}

/** A date or a moment: typed, picked from a calendar (Alt+↓), or today with Alt+T. */
export function DateControl(props: ControlProps) {
  const { column, text, readOnly, onText, labelId } = props;
  const tag = useLocale();
  const now = useNowSerial();
  const [open, setOpen] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const locale = localeFacts(tag);
  const isMoment = kindOf(column).iso === 'moment';
  const take = (serial: number): void => onText(typedValue(serial, column, locale));
  const onToday = (): void => take(isMoment ? Math.floor(now() * 1440) / 1440 : Math.floor(now()));

  const onKeyDown = (event: KeyboardEvent): void => {
    if (isNowKey(event) && !readOnly) onToday();
    else if (event.altKey && event.key === 'ArrowDown' && !isMoment && !readOnly) setOpen(true);
    else return;
    event.preventDefault();
  };
  const reading = kindOf(column).read(text, column, { locale, now: now() });
  const day = reading.ok && typeof reading.value === 'number' ? Math.floor(reading.value) : null;

  const onPick = (iso: string): void => {
    const picked = readIsoDate(iso);
    if (picked === null) return;
    const time = reading.ok && typeof reading.value === 'number' ? reading.value % 1 : 0;
    take(isMoment ? picked + time : picked);
    setOpen(false);
  };

  return (
    <InputGroup
      endElement={
        <>
          <NowButton word={isMoment ? 'Now' : 'Today'} readOnly={readOnly} onNow={onToday} />
          {!isMoment && (
            <Popover.Root
              open={open}
              onOpenChange={(details) => setOpen(details.open)}
              finalFocusEl={() => input.current}
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
                        today={isoDate(Math.floor(now()))}
                        locale={tag}
                        onPick={onPick}
                      />
                    </Suspense>
                  </Popover.Content>
                </Popover.Positioner>
              </Portal>
            </Popover.Root>
          )}
        </>
      }
      endElementProps={{ px: '1', gap: '0' }}
    >
      <Input
        {...inputProps(props)}
        ref={input}
        textAlign="start"
        fontFamily="mono"
        aria-keyshortcuts={isMoment ? 'Alt+T' : 'Alt+T Alt+ArrowDown'}
        pe={isMoment ? '14!' : '20!'}
        onKeyDown={onKeyDown}
      />
    </InputGroup>
  );
}

/** A time of day, typed, or now with Alt+T. */
export function TimeControl(props: ControlProps) {
  const { column, readOnly, onText } = props;
  const locale = localeFacts(useLocale());
  const now = useNowSerial();
  const onNow = (): void => {
    const minutes = Math.floor((now() % 1) * 1440);
    onText(typedValue(minutes / 1440, column, locale));
  };
  return (
    <InputGroup
      endElement={<NowButton word="Now" readOnly={readOnly} onNow={onNow} />}
      endElementProps={{ px: '1' }}
    >
      <Input
        {...inputProps(props)}
        inputMode="numeric"
        fontFamily="mono"
        aria-keyshortcuts="Alt+T"
        pe="12!"
        onKeyDown={(event) => {
          if (!isNowKey(event) || readOnly) return;
          event.preventDefault();
          onNow();
        }}
      />
    </InputGroup>
  );
}
