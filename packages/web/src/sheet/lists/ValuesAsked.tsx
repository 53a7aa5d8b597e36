import { Box, Button, HStack } from '@chakra-ui/react';
import { sayCountOf } from '@varn/core';
import { Notice } from '../../ui/Notice';
import type { AskedChange, ValuesChanging } from './useValuesChange';

interface ValuesAskedProps {
  readonly changing: ValuesChanging;
  /** Where the values are stored, and said beside someone's work, who is not to be held up. */
  readonly offeredIn?: string;
}

/** Asks before values become others, and tells what was done, to be taken back. */
export function ValuesAsked({ changing, offeredIn }: ValuesAskedProps) {
  const isOffer = offeredIn !== undefined;
  const { asked, done, failure } = changing;
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
      {asked && !(isOffer && asked.count === 0) && (
        <HStack
          gap="3"
          wrap="wrap"
          role={isOffer ? 'group' : 'alertdialog'}
          aria-label="Change stored values"
        >
          <Notice tone="ask">{isOffer ? sayOffer(asked, offeredIn) : sayChange(asked)}</Notice>
          <Button
            size={isOffer ? 'xs' : 'sm'}
            autoFocus={!isOffer}
            onClick={() => void changing.carryOut()}
          >
            Change {sayCountOf(asked.count, 'record')}
          </Button>
          <Button size={isOffer ? 'xs' : 'sm'} variant="outline" onClick={changing.leave}>
            Leave them
          </Button>
        </HStack>
      )}
    </>
  );
}

/** ‘3 spellings become ‘Heron Steps’ in 12 records.’ */
function sayChange({ changes, count }: AskedChange): string {
  const from = changes.flatMap((each) => each.from);
  const to = changes.map((each) => `‘${each.to}’`).join(', ');
  const what =
    from.length === 1
      ? `‘${from[0] ?? ''}’ becomes`
      : `${sayCountOf(from.length, 'spelling')} become`;
  return `${what} ${to} in ${sayCountOf(count, 'record')}.`;
}

/** ‘50 records of Samples hold ‘AB-01’. Change them to ‘AB-1’?’ */
function sayOffer({ changes, count }: AskedChange, sheet: string): string {
  const { from: [from] = [], to } = changes[0] ?? { to: '' };
  const [hold, them] = count === 1 ? ['holds', 'it'] : ['hold', 'them'];
  return `${sayCountOf(count, 'record')} of ${sheet} ${hold} ‘${from ?? ''}’. Change ${them} to ‘${to}’?`;
}
