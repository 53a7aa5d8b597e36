import { Box, Button, HStack, Stack } from '@chakra-ui/react';
import { sayCountOf } from '@varn/core';
import { LeftOut } from '../../ui/LeftOut';
import { Notice } from '../../ui/Notice';
import { UnderwayNote } from '../../ui/UnderwayNote';
import type { AskedChange, ValuesChanging } from './useValuesChange';

interface ValuesAskedProps {
  readonly changing: ValuesChanging;
  /** Where the values are stored, and said beside someone's work, who is not to be held up. */
  readonly offeredIn?: string;
}

/** Asks before values become others, and tells what was done, to be taken back. */
export function ValuesAsked({ changing, offeredIn }: ValuesAskedProps) {
  const isOffer = offeredIn !== undefined;
  const { asked, done, failure, running } = changing;
  return (
    <>
      <Box role="status">
        {done && (
          <HStack gap="3" wrap="wrap">
            <Notice tone="settled">{done.says}</Notice>
            {done.writeId !== null && (
              <Button size="xs" variant="outline" onClick={() => void changing.takeBack()}>
                Undo
              </Button>
            )}
          </HStack>
        )}
      </Box>
      {running !== null && <UnderwayNote workbookId={changing.workbookId} writeId={running} />}
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
      {asked && !(isOffer && asked.preview.count === 0) && (
        <Stack gap="2" role={isOffer ? 'group' : 'alertdialog'} aria-label="Change stored values">
          <HStack gap="3" wrap="wrap">
            <Notice tone="ask">{isOffer ? sayOffer(asked, offeredIn) : sayChange(asked)}</Notice>
            <Button
              size={isOffer ? 'xs' : 'sm'}
              autoFocus={!isOffer && asked.preview.changed > 0}
              disabled={asked.preview.changed === 0}
              onClick={() => void changing.carryOut()}
            >
              Change {sayCountOf(asked.preview.changed, 'record')}
            </Button>
            <Button size={isOffer ? 'xs' : 'sm'} variant="outline" onClick={changing.leave}>
              Leave them
            </Button>
          </HStack>
          <LeftOut
            preview={asked.preview}
            takesAsked={asked.takesAsked}
            onTakesAsked={(takes) => void changing.takeAsked(takes)}
            takeAway={changing.left}
          />
        </Stack>
      )}
    </>
  );
}

/** ‘3 spellings become ‘Heron Steps’ in 12 records.’ */
function sayChange({ changes, preview: { count } }: AskedChange): string {
  const from = changes.flatMap((each) => each.from);
  const to = changes.map((each) => `‘${each.to}’`).join(', ');
  const what =
    from.length === 1
      ? `‘${from[0] ?? ''}’ becomes`
      : `${sayCountOf(from.length, 'spelling')} become`;
  return `${what} ${to} in ${sayCountOf(count, 'record')}.`;
}

/** ‘50 records of Samples hold ‘AB-01’. Change them to ‘AB-1’?’ */
function sayOffer({ changes, preview: { count } }: AskedChange, sheet: string): string {
  const { from: [from] = [], to } = changes[0] ?? { to: '' };
  const [hold, them] = count === 1 ? ['holds', 'it'] : ['hold', 'them'];
  return `${sayCountOf(count, 'record')} of ${sheet} ${hold} ‘${from ?? ''}’. Change ${them} to ‘${to}’?`;
}
