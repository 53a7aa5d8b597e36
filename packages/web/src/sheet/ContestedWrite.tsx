import { Box, Button, HStack, Text } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import { Notice } from '../ui/Notice';
import { differences, type Contested } from './useUndo';

interface ContestedWriteProps {
  readonly contested: Contested;
  readonly sheet: SheetView;
  readonly onAnyway: () => void;
  readonly onLeave: () => void;
}

/** A value as one reads it; a cell outside of the records by what it holds. */
const say = (value: unknown): string => {
  if (value === undefined || value === null) return 'blank';
  return typeof value === 'string' ? value : JSON.stringify(value);
};

/** A write that others have written over since: what one wrote and what stands there now. */
export function ContestedWrite({ contested, sheet, onAnyway, onLeave }: ContestedWriteProps) {
  return (
    <HStack gap="3" wrap="wrap">
      <Notice tone="ask">{contested.message}</Notice>
      {differences(contested, sheet).map(({ heading, yours, now }) => (
        <Box key={heading}>
          <Text as="span" fontWeight="600">
            {heading}
          </Text>{' '}
          yours{' '}
          <Text as="span" fontFamily="mono">
            {say(yours)}
          </Text>
          , now{' '}
          <Text as="span" fontFamily="mono">
            {say(now)}
          </Text>
        </Box>
      ))}
      <Button size="xs" onClick={onAnyway}>
        {contested.again ? 'Do it again anyway' : 'Take back anyway'}
      </Button>
      <Button size="xs" variant="outline" onClick={onLeave}>
        Leave it
      </Button>
    </HStack>
  );
}
