import { Button, Input, InputGroup } from '@chakra-ui/react';
import { kindOf, localeFacts, typedValue } from '@varn/core';
import { useRef, useState, type KeyboardEvent } from 'react';
import { useLocale } from '../localeContext';
import { useNowSerial } from '../nowContext';
import { CalendarButton, loadCalendar } from './CalendarButton';
import { inputProps, type ControlProps } from './controlProps';

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
    if (event.altKey) loadCalendar();
    if (isNowKey(event) && !readOnly) onToday();
    else if (event.altKey && event.key === 'ArrowDown' && !isMoment && !readOnly) setOpen(true);
    else return;
    event.preventDefault();
  };
  const reading = kindOf(column).read(text, column, { locale, now: now() });
  const day = reading.ok && typeof reading.value === 'number' ? Math.floor(reading.value) : null;

  const onPick = (picked: number): void => {
    const time = reading.ok && typeof reading.value === 'number' ? reading.value % 1 : 0;
    take(isMoment ? picked + time : picked);
  };

  return (
    <InputGroup
      endElement={
        <>
          <NowButton word={isMoment ? 'Now' : 'Today'} readOnly={readOnly} onNow={onToday} />
          {!isMoment && (
            <CalendarButton
              open={open}
              onOpen={setOpen}
              field={input}
              labelId={labelId}
              readOnly={readOnly}
              day={day}
              today={Math.floor(now())}
              locale={tag}
              onPick={onPick}
            />
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
