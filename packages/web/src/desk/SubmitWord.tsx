import { Button, HStack, Text } from '@chakra-ui/react';
import type { Landed } from '@varn/contract';
import {
  fromWire,
  nameOfRecord,
  sayCount,
  sayCountOf,
  type Column,
  type Filling,
  type Input,
  type LocaleFacts,
} from '@varn/core';
import { memo } from 'react';
import { SignedOut, type NoAnswer } from '../api/client';
import { Notice } from '../ui/Notice';
import { Readiness } from './Readiness';
import { sayNotes } from '../ui/sayNotes';
import { sayBecame } from './sayBecame';
import type { Sending } from './useSubmit';

interface SubmitWordProps {
  readonly sheetName: string;
  readonly columns: readonly Column[];
  /** Opens the record in a row of the sheet. */
  readonly onOpenRow: (row: number) => void;
  readonly filling: Filling;
  readonly inputs: readonly Input[];
  readonly locale: LocaleFacts;
  readonly onJump: (inputId: string) => void;
  /** What the form says after a submit. */
  readonly said: string;
  /** Whether a submit was too early, and is held back. */
  readonly isHeldBack: boolean;
  /** What is said when nothing is missing; '' where there is nothing to send. */
  readonly ready: string;
  readonly sending: Sending;
  /** Why records that wait in line are not sent; `null` where they are on their way. */
  readonly lineWhy: NoAnswer | null;
  /** Whether the form was cleared, and nothing begun since. */
  readonly isCleared: boolean;
  readonly onTryNow: () => void;
  readonly onTakeBack: () => void;
  readonly onPutBack: () => void;
}

/** What became of a row of the sheet. */
const DONE: Readonly<Partial<Record<Landed['kind'], string>>> = {
  recordPutBack: 'restored to',
  recordChanged: 'updated in',
};

/** Where it landed, or what is still missing. The first is told to screen readers, politely. */
export const SubmitWord = memo(function SubmitWord(props: SubmitWordProps) {
  const { filling, inputs, onJump, sending, isHeldBack } = props;
  // What the server refused is not ready, although nothing is wrong with it as far as is known here.
  const isRefused = sending.is === 'refused' && sending.verdicts.length > 0;
  return (
    <HStack gap="4" wrap="wrap" minH="24px">
      <HStack role="status" gap="2">
        <Outcome {...props} />
      </HStack>
      {sending.is !== 'notWritten' && sending.is !== 'sending' && !isRefused && (
        <Readiness
          filling={filling}
          inputs={inputs}
          onJump={onJump}
          isHeldBack={isHeldBack}
          ready={props.ready}
        />
      )}
    </HStack>
  );
});

/** What people call the record that a write was about. */
function nameOf(
  { cells }: Landed,
  columns: SubmitWordProps['columns'],
  locale: LocaleFacts,
): string {
  const stored = columns.map(
    (column) => [column.id, fromWire(cells[column.id] ?? null, column)] as const,
  );
  return nameOfRecord(Object.fromEntries(stored), columns, locale);
}

function Outcome(props: SubmitWordProps) {
  const { sheetName, columns, onOpenRow, sending, said, inputs, locale, onTryNow, onPutBack } =
    props;
  switch (sending.is) {
    case 'idle':
      if (!props.isCleared) return null;
      return (
        <>
          <Notice tone="note">Cleared.</Notice>
          <Button size="xs" variant="outline" onClick={props.onTakeBack}>
            Bring back what was typed
          </Button>
        </>
      );
    case 'sending':
      return <Text color="ink.soft">Sending…</Text>;
    case 'notWritten':
      return (
        <>
          <Notice tone="ask">
            Not written yet. {sending.why.message} {sending.why.meanwhile}
          </Notice>
          {!(sending.why instanceof SignedOut) && (
            <Button size="xs" variant="outline" onClick={onTryNow}>
              Try now
            </Button>
          )}
        </>
      );
    case 'waits': {
      const why = sending.why ?? props.lineWhy;
      if (!why) return <Text color="ink.soft">Sending…</Text>;
      return (
        <Notice tone="ask">
          Not written yet. {why.message} This record waits in line and is sent as soon as the server
          answers. Go on with the next one.
        </Notice>
      );
    }
    case 'written': {
      const { row, before, after, kind } = sending.landed;
      const isChange = kind === 'recordChanged';
      const done = isChange && sending.undone ? 'is as it was in' : (DONE[kind] ?? 'written to');
      const name = nameOf(sending.landed, columns, locale);
      return (
        <Notice tone="settled">
          {said !== '' && `${said} `}
          {sayBecame(sending.landed, inputs, locale)} {name || 'Record'} {done} {sheetName}, row{' '}
          {sayCount(row)}.{' '}
          {before !== after && `${sayCountOf(before, 'record')} before, ${sayCount(after)} now.`}
          {sayNotes(sending.landed)}
        </Notice>
      );
    }
    case 'removed': {
      const { row, before, after } = sending.landed;
      const name = nameOf(sending.landed, columns, locale);
      return (
        <>
          <Notice tone="settled">
            {name || 'A record'} deleted from {sheetName}, row {sayCount(row)}. It is in the bin.{' '}
            {sayCountOf(before, 'record')} before, {sayCount(after)} now.
          </Notice>
          <Button size="xs" variant="outline" onClick={onPutBack}>
            Put it back
          </Button>
        </>
      );
    }
    case 'takenBack': {
      const { row, before, after } = sending.landed;
      return (
        <>
          <Notice tone="settled">
            Undone: row {sayCount(row)} taken out of {sheetName}. {sayCountOf(before, 'record')}{' '}
            before, {sayCount(after)} now.
          </Notice>
          <Button size="xs" variant="outline" onClick={onPutBack}>
            Put back
          </Button>
        </>
      );
    }
    case 'refused':
      return (
        <>
          <Notice tone="refuse">
            {[sending.message, ...sending.verdicts.map(({ message }) => message)].join(' ')}
          </Notice>
          {sending.verdicts.map(
            ({ columnId, row }) =>
              row !== undefined && (
                <Button key={columnId} size="xs" variant="outline" onClick={() => onOpenRow(row)}>
                  Open row {sayCount(row)}
                </Button>
              ),
          )}
        </>
      );
  }
}
