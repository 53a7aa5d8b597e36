import { Box, Button, HStack, Input, Text } from '@chakra-ui/react';
import type { RecordPlaceView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { columnLetters, sayCount, sayCountOf } from '@varn/core';
import { useState } from 'react';
import useSWR from 'swr';
import { ApiRefusal, get } from '../api/client';
import { Notice } from '../ui/Notice';
import type { Kept } from './cells/plan';
import { lineOf } from './lines';
import { at, type Spot } from './selection';
import { keptKey, type KeptCells } from './useKept';
import type { GridState } from './useSheetGrid';

/** How many cells are told one by one, and how many more at each asking. */
const LISTED = 20;

interface KeptStripProps {
  readonly grid: GridState;
  readonly kept: KeptCells;
}

/** Cells that were pasted and not written, each with its reason, to be corrected and placed. */
export function KeptStrip({ grid, kept }: KeptStripProps) {
  const { all, failure, isPlacing, place, drop } = kept;
  const [listed, setListed] = useState(LISTED);
  if (all.length === 0) return null;
  const waiting = waitingRows(all);
  const count = all.length + [...waiting.values()].reduce((sum, { length }) => sum + length, 0);
  return (
    <Box
      px="5"
      py="2"
      bg="brass.wash"
      borderBottomWidth="1px"
      role="region"
      aria-label="Not written"
      fontSize="13px"
    >
      <HStack wrap="wrap" gap="2" pb="1">
        <Text role="status" fontWeight="600">
          {sayCountOf(count, 'cell')} {count === 1 ? 'was' : 'were'} not written. Correct and place{' '}
          {count === 1 ? 'it' : 'them'}.
        </Text>
        <Box flex="1" />
        <Button size="xs" disabled={isPlacing} onClick={() => void place(all)}>
          Place all
        </Button>
        <Button size="xs" variant="outline" onClick={() => drop(all)}>
          Discard all
        </Button>
      </HStack>
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
      <Box as="ul" listStyleType="none" maxH="26vh" overflow="auto">
        {all.slice(0, listed).map((each) => (
          <KeptCell
            key={keptKey(each)}
            {...{ grid, kept, each }}
            waits={waiting.get(keptKey(each)) ?? []}
          />
        ))}
      </Box>
      {all.length > listed && (
        <Button size="xs" variant="outline" mt="1" onClick={() => setListed(listed + LISTED)}>
          Show more ({sayCount(all.length - listed)} left)
        </Button>
      )}
    </Box>
  );
}

interface KeptCellProps extends KeptStripProps {
  readonly each: Kept;
  /** What of its row waits with it, by column. */
  readonly waits: readonly (readonly [columnId: string, text: string])[];
}

function KeptCell({ grid, kept, each, waits }: KeptCellProps) {
  const { isPlacing, type, place, drop } = kept;
  const { spot, says } = useStandsAt(grid, each);
  const headingOf = (columnId: string): string =>
    grid.sheet.columns.find(({ id }) => id === columnId)?.heading ?? '';
  const heading = headingOf(each.columnId);
  const name = `${heading} in ${says}`;
  return (
    <HStack as="li" py="1" gap="2" wrap="wrap" align="center">
      {spot ? (
        <Button
          size="2xs"
          variant="outline"
          fontFamily="mono"
          aria-label={`Go to ${name}`}
          onClick={() => grid.select(at(spot))}
        >
          {says}
        </Button>
      ) : (
        <Text color="ink.soft">{says}</Text>
      )}
      <Text minW="80px">{heading}</Text>
      <Input
        size="xs"
        w="160px"
        bg="leaf"
        borderColor="edge"
        aria-label={name}
        aria-invalid
        value={each.text}
        onChange={(event) => type(each, event.target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter') void place([each]);
        }}
      />
      <Button
        size="2xs"
        variant="outline"
        aria-label={`Place ${name}`}
        disabled={isPlacing}
        onClick={() => void place([each])}
      >
        {each.strictness === 'ask' ? 'Place it anyway' : 'Place'}
      </Button>
      <Button size="2xs" variant="ghost" aria-label={`Drop ${name}`} onClick={() => drop([each])}>
        Drop
      </Button>
      <Text color="ink.soft" flex="1" minW="200px">
        {each.message}
        {waits.length > 0 &&
          ` Waits with it: ${waits.map(([id, text]) => `${headingOf(id)} ‘${text}’`).join(', ')}.`}
      </Text>
    </HStack>
  );
}

/** What waits of each row that is not written, under the first of its cells that is kept. */
function waitingRows(
  all: readonly Kept[],
): ReadonlyMap<string, readonly (readonly [string, string])[]> {
  const firsts = new Map<string, Kept>();
  for (const each of all) {
    if (!each.record && !firsts.has(each.row)) firsts.set(each.row, each);
  }
  return new Map(
    [...firsts.values()].map((each) => [
      keptKey(each),
      Object.entries(each.rest).filter(([, text]) => text.trim() !== ''),
    ]),
  );
}

/** Where a kept cell stands by now: others may have put in, moved or deleted rows since. */
function useStandsAt(grid: GridState, each: Kept): { spot: Spot | null; says: string } {
  const { sheet, lines, viewParameter } = grid;
  const path = each.record && paths.record(sheet.id, each.record.id);
  const { data: place, error } = useSWR<RecordPlaceView, unknown>(
    path === null ? null : [path, sheet.count, sheet.headingRow],
    ([asked]: [string]) => get<RecordPlaceView>(asked),
  );
  if (!each.record) return { spot: null, says: `new row ${sayCount(each.nth)}` };
  if (error instanceof ApiRefusal && error.refusal.statusCode === 404) {
    return { spot: null, says: 'a deleted record' };
  }
  if (!place) return { spot: each, says: grid.addressOf(each) };
  const line = lineOf(lines, { is: 'record', position: place.position });
  // In a view of one's own lines are counted otherwise.
  const spot = viewParameter === '' ? { line, column: each.column } : null;
  return { spot, says: `${columnLetters(each.column)}${place.row}` };
}
