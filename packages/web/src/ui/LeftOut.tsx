import { Box, Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { LeftRecord, ManyPreview } from '@varn/contract';
import { sayCount, sayCountOf } from '@varn/core';
import { useState } from 'react';
import { sayError } from '../api/client';
import { Tick } from './controls';
import { keepFile } from './keepFile';
import { Notice } from './Notice';

interface LeftOutProps {
  readonly preview: ManyPreview;
  /** Whether what is only asked about is meant. */
  readonly takesAsked: boolean;
  readonly onTakesAsked: (takes: boolean) => void;
  /** Gives all records that stay as they are, as CSV, each with why. */
  readonly takeAway: () => Promise<string>;
}

/** The records that a change of many leaves as they are: how many, which, and why. */
export function LeftOut({ preview, takesAsked, onTakesAsked, takeAway }: LeftOutProps) {
  const { asked, refused, left } = preview;
  const [failure, setFailure] = useState('');
  const [wasAsked, setWasAsked] = useState(asked);
  // Once they are accepted they are among those that change: the tick stays to be taken back.
  if (asked > 0 && asked !== wasAsked) setWasAsked(asked);
  const take = async (): Promise<void> => {
    try {
      keepFile('left out.csv', await takeAway());
      setFailure('');
    } catch (error) {
      setFailure(sayError(error));
    }
  };
  if (left.length === 0 && !takesAsked) return null;
  return (
    <Stack gap="2">
      {left.length > 0 && (
        <HStack gap="3" wrap="wrap">
          <Notice tone="ask">{sayLeft(asked, refused)}</Notice>
          <Button size="xs" variant="outline" minH="28px" onClick={() => void take()}>
            Take away the {sayCountOf(asked + refused, 'record')} left out
          </Button>
        </HStack>
      )}
      {(asked > 0 || takesAsked) && (
        <Tick
          label={`Accept ${wasAsked === 1 ? 'the record that is' : `the ${sayCountOf(wasAsked, 'record')} that are`} asked about`}
          checked={takesAsked}
          onChange={onTakesAsked}
        />
      )}
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
      {left.length > 0 && <LeftTable left={left} />}
      {left.length < asked + refused && (
        <Text fontSize="13px" color="ink.soft">
          The first {sayCount(left.length)} are shown.
        </Text>
      )}
    </Stack>
  );
}

/** ‘3 records can’t take it and stay as they are. 1 is asked about.’ */
function sayLeft(asked: number, refused: number): string {
  const stay = refused === 1 ? 'it stays as it is' : 'they stay as they are';
  const cant = refused > 0 ? `${sayCountOf(refused, 'record')} can’t take it: ${stay}.` : '';
  const are = asked === 1 ? 'is' : 'are';
  const about =
    asked > 0
      ? `${sayCountOf(asked, 'record')} ${are} asked about, and ${asked === 1 ? 'stays as it is' : 'stay as they are'} unless you accept ${asked === 1 ? 'it' : 'them'}.`
      : '';
  return `${cant} ${about}`.trim();
}

const CELLS = {
  '& th, & td': { textAlign: 'start', px: '2', py: '1.5', borderBottomWidth: '1px' },
  '& th': { fontWeight: '600' },
} as const;

function LeftTable({ left }: { left: readonly LeftRecord[] }) {
  return (
    <Box
      overflow="auto"
      maxH="18vh"
      minH="88px"
      borderWidth="1px"
      borderRadius="4px"
      tabIndex={0}
      role="region"
      aria-label="Records left as they are"
    >
      <Box as="table" w="100%" fontSize="13px" css={CELLS}>
        <thead>
          <tr>
            {['Row', 'Record', 'Value', 'Why'].map((name) => (
              <th key={name} scope="col">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {left.map(({ row, name, text, message, strictness }) => (
            <tr key={row}>
              <Box as="td" fontFamily="mono">
                {sayCount(row)}
              </Box>
              <td>{name}</td>
              <Box as="td" fontFamily="mono">
                {text}
              </Box>
              <td>
                {strictness === 'ask' ? 'Asked about. ' : ''}
                {message}
              </td>
            </tr>
          ))}
        </tbody>
      </Box>
    </Box>
  );
}
