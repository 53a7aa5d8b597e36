import { Button, HStack, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { readiness, sayCount, type Filling, type Input } from '@varn/core';

/** How many of what is missing are named; the others are counted. */
const MOST_NAMED = 5;

interface ReadinessProps {
  readonly filling: Filling;
  readonly inputs: readonly Input[];
  readonly isHeldBack: boolean;
  readonly ready: string;
  readonly onJump: (inputId: string) => void;
}

/** What is still needed, in one line: each a jump to its field. */
export function Readiness({ filling, inputs, isHeldBack, ready, onJump }: ReadinessProps) {
  const { required, missing, refused } = readiness(filling);
  const labels = new Map(inputs.map(({ id, label }) => [id, label]));
  if (missing.length + refused.length === 0) {
    return required > 0 && ready !== '' ? <Text color="pine">{ready}</Text> : null;
  }
  return (
    <HStack
      gap="4"
      wrap="wrap"
      rowGap="0"
      role={isHeldBack ? 'alert' : undefined}
      color={isHeldBack ? 'madder' : 'ink.soft'}
    >
      {isHeldBack && <Text>Held back:</Text>}
      {refused.length > 0 && (
        <Jumps
          says={`${sayCount(refused.length)} not right yet:`}
          ids={refused}
          labels={labels}
          onJump={onJump}
        />
      )}
      {missing.length > 0 && (
        <Jumps
          says={`${sayCount(missing.length)} of ${sayCount(required)} still needed:`}
          ids={missing}
          labels={labels}
          onJump={onJump}
        />
      )}
    </HStack>
  );
}

interface JumpsProps {
  readonly says: string;
  readonly ids: readonly string[];
  readonly labels: ReadonlyMap<string, string>;
  readonly onJump: (inputId: string) => void;
}

function Jumps({ says, ids, labels, onJump }: JumpsProps) {
  const [isWhole, setWhole] = useState(false);
  const named = isWhole ? ids : ids.slice(0, MOST_NAMED);
  const onShowAll = (): void => setWhole(true);
  return (
    <HStack gap="1" wrap="wrap" rowGap="0">
      <Text>{says}</Text>
      {named.map((id) => (
        <Button
          key={id}
          size="2xs"
          variant="ghost"
          color="inherit"
          textDecoration="underline"
          onClick={() => onJump(id)}
        >
          {labels.get(id) ?? ''}
        </Button>
      ))}
      {ids.length > named.length && (
        <Button
          size="2xs"
          variant="ghost"
          color="inherit"
          textDecoration="underline"
          onClick={onShowAll}
        >
          and {sayCount(ids.length - named.length)} more
        </Button>
      )}
    </HStack>
  );
}
