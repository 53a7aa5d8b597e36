import { Box, Button, HStack } from '@chakra-ui/react';
import { sayCountOf } from '@varn/core';
import { Notice } from '../ui/Notice';
import type { ValuesChanging } from './useValuesChange';

/** Asks before values become others, and tells what was done, to be taken back. */
export function ValuesAsked({ changing }: { changing: ValuesChanging }) {
  const { asked, done, failure } = changing;
  const from = asked?.changes.flatMap((each) => each.from) ?? [];
  const to = asked?.changes.map((each) => `‘${each.to}’`).join(', ') ?? '';
  return (
    <>
      <Box role="status">
        {done && (
          <HStack gap="3" wrap="wrap">
            <Notice tone="settled">{done.says}</Notice>
            <Button size="xs" variant="outline" onClick={() => void changing.takeBack()}>
              Undo
            </Button>
          </HStack>
        )}
      </Box>
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
      {asked && (
        <HStack gap="3" wrap="wrap" role="alertdialog" aria-label="Change stored values">
          <Notice tone="ask">
            {from.length === 1
              ? `‘${from[0] ?? ''}’ becomes`
              : `${sayCountOf(from.length, 'spelling')} become`}{' '}
            {to} in {sayCountOf(asked.count, 'record')}.
          </Notice>
          <Button size="sm" autoFocus onClick={() => void changing.carryOut()}>
            Change {sayCountOf(asked.count, 'record')}
          </Button>
          <Button size="sm" variant="outline" onClick={changing.leave}>
            Leave them
          </Button>
        </HStack>
      )}
    </>
  );
}
