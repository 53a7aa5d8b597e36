import { Box, Button, HStack } from '@chakra-ui/react';
import { sayCount, sayCountOf } from '@varn/core';
import type { WaitingBody, WaitingSubmit } from '../api/waitingLine';
import { useWaitingLine } from '../api/useWaitingLine';
import { Notice } from '../ui/Notice';
import type { Desk, DeskProps } from './useDesk';

/** Why it was refused: of its answers, or as a whole. */
const sayWhy = ({ message, verdicts }: NonNullable<WaitingSubmit['refused']>): string =>
  verdicts.length > 0 ? verdicts.map((each) => each.message).join(' ') : message;

/** What is to be told above the form: what came back, what waits, what was changed meanwhile. */
export function DeskNotices({ desk, props }: { desk: Desk; props: DeskProps }) {
  const { form, gone, begun, isNewer, onTakeNewer, place, record } = props;
  const { isBack, busy, step, updateAllTheSame } = desk;
  const { copied } = place.opened;
  const { refused: allRefused, line } = useWaitingLine();
  const own = allRefused.filter(({ formId }) => formId === form.id);
  /** What was refused comes back into the fields, as a new record. */
  const settle = (
    { writeId, answers, untouched = [] }: WaitingBody,
    why: WaitingSubmit['refused'],
  ): void => {
    const typed = Object.entries(answers).filter(([id]) => !untouched.includes(id));
    place.goToNew({
      copied: { answers: Object.fromEntries(typed), from: '' },
      // With what was said of it, at its fields.
      carried: why ? { sending: { is: 'refused', ...why, answers }, desk } : null,
    });
    line.drop(writeId);
  };
  return (
    <>
      {gone !== '' && (
        <Box mb="3">
          <Notice tone="refuse">{gone} What you typed is still here.</Notice>
        </Box>
      )}
      {isBack && (
        <Box mb="3" role="status">
          <Notice tone="note">Your unfinished record is back. Clear starts a new one.</Notice>
        </Box>
      )}
      {begun.waiting > 0 && (
        <HStack mb="3" gap="3" role="status">
          <Notice tone="note">
            {sayCountOf(begun.waiting, 'other record')} you had begun{' '}
            {begun.waiting === 1 ? 'waits' : 'wait'} here.
          </Notice>
          <Button size="xs" variant="outline" onClick={begun.takeUp} disabled={busy}>
            Go on with it
          </Button>
        </HStack>
      )}
      {own.map(({ body, refused }) => (
        <HStack key={body.writeId} mb="3" gap="3" role="status" wrap="wrap">
          <Notice tone="refuse">
            A record you submitted was not written, and waits here to be corrected.{' '}
            {refused && sayWhy(refused)}
          </Notice>
          <Button size="xs" variant="outline" onClick={() => settle(body, refused)} disabled={busy}>
            Correct it
          </Button>
          {refused?.verdicts.map(
            ({ columnId, row }) =>
              row !== undefined && (
                <Button
                  key={columnId}
                  size="xs"
                  variant="outline"
                  onClick={() => desk.openRow(row)}
                >
                  Open row {sayCount(row)}
                </Button>
              ),
          )}
        </HStack>
      ))}
      {place.trouble !== '' && (
        <Box mb="3">
          <Notice tone="refuse">{place.trouble}</Notice>
        </Box>
      )}
      {!record && copied && copied.from !== '' && (
        <Box mb="3" role="status">
          <Notice tone="note">
            Copied from {copied.from}. Keys, running numbers and dates start fresh.
          </Notice>
        </Box>
      )}
      {(step.is === 'unchanged' || step.is === 'unsettled') && (
        <Box mb="3" role="status">
          <Notice tone={step.is === 'unchanged' ? 'note' : 'ask'}>
            {step.is === 'unchanged'
              ? 'Nothing has changed, so nothing was sent.'
              : 'Not updated yet. First choose which value to keep where you both made a change.'}
          </Notice>
        </Box>
      )}
      {isNewer && (
        <HStack mb="3" gap="3" role="status">
          <Notice tone="note">This form was changed. You can go on with the one you have.</Notice>
          <Button size="xs" variant="outline" onClick={onTakeNewer}>
            Use the new version
          </Button>
        </HStack>
      )}
      {step.is === 'asked' && (
        <HStack mb="3" gap="3" role="alert">
          <Notice tone="ask">
            This update erases what is stored in {step.erasing.join(', ')}, as it is hidden now.
          </Notice>
          <Button size="xs" variant="outline" onClick={updateAllTheSame}>
            Update anyway
          </Button>
        </HStack>
      )}
    </>
  );
}
