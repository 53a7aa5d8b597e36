import { Box, Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { Input } from '@varn/core';
import { Notice } from '../ui/Notice';
import type { Settling } from './useSettling';

interface SettlingPartProps {
  readonly settling: Settling;
  readonly inputs: readonly Input[];
  /** The workbook's. */
  readonly locale: string;
  readonly timeZone: string;
  readonly busy: boolean;
  readonly onRestore: () => void;
  readonly onEnterAsNew: () => void;
}

const said = (text: string): string => (text === '' ? 'blank' : text);

/** What someone else did to the record one is correcting, and what is to be decided of it. */
export function SettlingPart({
  settling,
  inputs,
  locale,
  timeZone,
  busy,
  onRestore,
  onEnterAsNew,
}: SettlingPartProps) {
  const { by, taken, contests, decide, isGone, removed } = settling;
  const labelOf = (id: string): string => inputs.find((input) => input.id === id)?.label ?? '';
  const timeOf = (at: number): string =>
    new Date(at).toLocaleTimeString(locale, { hour: '2-digit', minute: '2-digit', timeZone });
  if (isGone) {
    return (
      <HStack mb="3" gap="3" wrap="wrap" role="alert" data-gone>
        <Notice tone="refuse">
          {removed
            ? `${removed.by} deleted this record at ${timeOf(removed.at)}.`
            : 'This record was deleted.'}{' '}
          What you typed is still here.
        </Notice>
        {removed && (
          <Button size="xs" variant="outline" disabled={busy} onClick={onRestore}>
            Restore and update
          </Button>
        )}
        <Button size="xs" variant="outline" disabled={busy} onClick={onEnterAsNew}>
          Save as new
        </Button>
      </HStack>
    );
  }
  if (!by) return null;
  const when = timeOf(by.at);
  return (
    <Box mb="3" role="status" aria-live="polite">
      <Notice tone={contests.length > 0 ? 'ask' : 'note'}>
        {by.name} changed this record at {when}.
        {taken.length > 0 && ` Their values are used for ${taken.map(labelOf).join(', ')}.`}
        {contests.length > 0 && ' You both changed these; choose which one stands:'}
      </Notice>
      {contests.length > 0 && (
        <Stack as="ul" listStyleType="none" gap="1" mt="2" ms="6">
          {contests.map(({ inputId, mine, theirs }) => (
            <HStack as="li" key={inputId} gap="2" wrap="wrap">
              <Text fontWeight="600">{labelOf(inputId)}</Text>
              <Button size="xs" variant="outline" onClick={() => decide(inputId, 'mine')}>
                Keep mine: {said(mine)}
              </Button>
              <Button size="xs" variant="outline" onClick={() => decide(inputId, 'theirs')}>
                Take {by.name}’s: {said(theirs)}
              </Button>
            </HStack>
          ))}
        </Stack>
      )}
    </Box>
  );
}
