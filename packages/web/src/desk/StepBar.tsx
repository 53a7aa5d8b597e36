import { Box, Button, Flex, HStack, Input, Text } from '@chakra-ui/react';
import { sayCount } from '@varn/core';
import { useEffect, useState } from 'react';
import { announce } from '../ui/announce';
import { Notice } from '../ui/Notice';
import type { Opened, Step } from './useDeskPlace';

interface StepBarProps {
  readonly opened: Opened;
  /** What the record is called. */
  readonly name: string;
  /** Whether one steps through the matches of a question. */
  readonly isAmongMatches: boolean;
  /** How much here differs from what is stored. */
  readonly changed: number;
  readonly mayEnter: boolean;
  readonly busy: boolean;
  readonly onStep: (to: Step | number) => void;
  readonly onDelete: () => void;
  readonly onDuplicate: () => void;
  readonly onHistory: () => void;
  readonly isHistoryOpen: boolean;
}

const STEPS: readonly { to: Step; label: string; keys?: string }[] = [
  { to: 'first', label: 'First' },
  { to: 'back', label: 'Back', keys: 'PageUp' },
  { to: 'on', label: 'Next', keys: 'PageDown' },
  { to: 'last', label: 'Last' },
];

/** Which stored record one is on, and the way to the others. */
export function StepBar(props: StepBarProps) {
  const { opened, name, isAmongMatches, changed, mayEnter, busy } = props;
  const { record, at, of } = opened;
  const [isAsked, setAsked] = useState(false);
  const place = record ? sayPlace(opened, isAmongMatches) : '';
  useEffect(() => announce(place), [place]);
  if (!record) return null;
  return (
    <Box mb="3" maxW="1040px" mx="auto">
      <Flex align="center" gap="2" wrap="wrap" rowGap="1">
        <Text fontWeight="600" me="2" data-place>
          {place}
        </Text>
        {changed > 0 && (
          <Text color="brass" fontWeight="600">
            {changed === 1 ? '1 change' : `${sayCount(changed)} changes`}
          </Text>
        )}
        <HStack gap="1" ms={{ md: 'auto' }} wrap="wrap">
          <Steps {...props} hideBelow="md" />
          <GoToPlace
            of={of}
            isAmongMatches={isAmongMatches}
            headingRow={record.row - (at ?? 0)}
            onGo={props.onStep}
          />
        </HStack>
        <HStack gap="1">
          {mayEnter && (
            <>
              <Button
                size="xs"
                variant="outline"
                minH="28px"
                onClick={props.onDuplicate}
                disabled={busy}
              >
                Duplicate
              </Button>
              <Button
                size="xs"
                variant="outline"
                minH="28px"
                onClick={() => setAsked(true)}
                disabled={busy}
              >
                Delete
              </Button>
            </>
          )}
          <Button
            size="xs"
            variant="outline"
            minH="28px"
            aria-expanded={props.isHistoryOpen}
            onClick={props.onHistory}
          >
            History
          </Button>
          <Button
            size="xs"
            variant="outline"
            minH="28px"
            hideBelow="md"
            onClick={() => window.print()}
          >
            Print
          </Button>
        </HStack>
      </Flex>
      {isAsked && (
        <HStack mt="2" gap="3" role="alertdialog" aria-label="Delete the record" wrap="wrap">
          <Notice tone="ask">
            Delete {name} in row {sayCount(record.row)}? It goes to the bin.
          </Notice>
          <Button
            size="xs"
            autoFocus
            onClick={() => {
              setAsked(false);
              props.onDelete();
            }}
          >
            Delete {name}
          </Button>
          <Button size="xs" variant="outline" onClick={() => setAsked(false)}>
            Keep it
          </Button>
        </HStack>
      )}
    </Box>
  );
}

interface StepsProps extends Pick<StepBarProps, 'opened' | 'busy' | 'onStep'> {
  readonly hideBelow?: 'md';
  readonly hideFrom?: 'md';
}

/** First, back, on and last: in the bar over the form, on a phone at the foot, for two thumbs. */
export function Steps({ opened: { at, of }, busy, onStep, ...where }: StepsProps) {
  return (
    <HStack gap="1" role="group" aria-label="Step through the records" {...where}>
      {STEPS.map(({ to, label, keys }) => {
        const isOff = isAtEnd(to, at, of) || busy;
        return (
          <Button
            key={to}
            size="xs"
            variant="outline"
            flex={{ base: '1', md: 'none' }}
            minH={{ base: '40px', md: '28px' }}
            title={keys}
            aria-keyshortcuts={keys}
            aria-disabled={isOff || undefined}
            opacity={isOff ? 0.45 : undefined}
            onClick={() => {
              if (!isOff) onStep(to);
            }}
          >
            {label}
          </Button>
        );
      })}
    </HStack>
  );
}

/** `Record 318 of 2,400`, `Match 2 of 14 · row 318`. */
export function sayPlace({ record, at, of }: Opened, isAmongMatches: boolean): string {
  if (!record) return 'New record';
  const row = `row ${sayCount(record.row)}`;
  if (!isAmongMatches)
    return at === null
      ? `Record in ${row}`
      : `Record ${sayCount(at + 1)} of ${sayCount(of)} · ${row}`;
  return at === null
    ? `Not among the ${sayCount(of)} matches · ${row}`
    : `Match ${sayCount(at + 1)} of ${sayCount(of)} · ${row}`;
}

function isAtEnd(to: Step, at: number | null, of: number): boolean {
  if (at === null) return of === 0;
  return to === 'first' || to === 'back' ? at === 0 : to === 'last' && at >= of - 1;
}

interface GoToPlaceProps {
  readonly of: number;
  readonly isAmongMatches: boolean;
  /** The grid's row of the first record, where one steps through all. */
  readonly headingRow: number;
  readonly onGo: (place: number) => void;
}

/** Goes to a record by its row, or to a match by its number. */
function GoToPlace({ of, isAmongMatches, headingRow, onGo }: GoToPlaceProps) {
  const [typed, setTyped] = useState('');
  const first = isAmongMatches ? 1 : headingRow;
  const go = (): void => {
    const number = Number(typed.replace(/\D/g, ''));
    setTyped('');
    if (typed.trim() !== '' && number >= first) onGo(Math.min(number - first, of - 1));
  };
  return (
    <Input
      size="xs"
      w="96px"
      minH="28px"
      bg="leaf"
      borderColor="edge"
      inputMode="numeric"
      enterKeyHint="go"
      aria-label={isAmongMatches ? 'Go to match number' : 'Go to row number'}
      placeholder={isAmongMatches ? 'Match no.' : 'Row no.'}
      value={typed}
      onChange={(event) => setTyped(event.target.value)}
      onKeyDown={(event) => {
        if (event.key !== 'Enter') return;
        event.preventDefault();
        event.stopPropagation();
        go();
      }}
    />
  );
}
