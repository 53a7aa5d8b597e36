import { Box, Button, HStack, Input, Text } from '@chakra-ui/react';
import { sayCountOf } from '@varn/core';
import { Notice } from '../ui/Notice';
import { at } from './selection';
import { keptKey, type KeptCells } from './useKept';
import type { GridState } from './useSheetGrid';

/** The most cells that are told one by one. */
const MOST_LISTED = 200;

interface KeptStripProps {
  readonly grid: GridState;
  readonly kept: KeptCells;
}

/** Cells that were pasted and not written, each with its reason, to be corrected and placed. */
export function KeptStrip({ grid, kept }: KeptStripProps) {
  const { all, failure, isPlacing, type, place, drop } = kept;
  if (all.length === 0) return null;
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
          {sayCountOf(all.length, 'cell')} {all.length === 1 ? 'was' : 'were'} not written. Correct
          and place {all.length === 1 ? 'it' : 'them'}.
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
        {all.slice(0, MOST_LISTED).map((each) => {
          const address = grid.addressOf(each);
          const heading = grid.sheet.columns.find(({ id }) => id === each.columnId)?.heading ?? '';
          const name = `${heading} in ${address}`;
          return (
            <HStack as="li" key={keptKey(each)} py="1" gap="2" wrap="wrap" align="center">
              <Button
                size="2xs"
                variant="outline"
                fontFamily="mono"
                aria-label={`Go to ${name}`}
                onClick={() => grid.select(at(each))}
              >
                {address}
              </Button>
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
              <Button
                size="2xs"
                variant="ghost"
                aria-label={`Drop ${name}`}
                onClick={() => drop([each])}
              >
                Drop
              </Button>
              <Text color="ink.soft" flex="1" minW="200px">
                {each.message}
              </Text>
            </HStack>
          );
        })}
      </Box>
      {all.length > MOST_LISTED && (
        <Text color="ink.soft">and {sayCountOf(all.length - MOST_LISTED, 'other')}</Text>
      )}
    </Box>
  );
}
