import { Box, Button, HStack, Text } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import type { LocaleFacts } from '@varn/core';
import { Notice } from '../ui/Notice';
import { differences, type Contested } from './useUndo';

interface ContestedWriteProps {
  readonly contested: Contested;
  readonly sheet: SheetView;
  readonly locale: LocaleFacts;
  readonly onAnyway: () => void;
  readonly onLeave: () => void;
}

/** A write that others have written over since: what one wrote and what stands there now. */
export function ContestedWrite(props: ContestedWriteProps) {
  const { contested, sheet, locale, onAnyway, onLeave } = props;
  return (
    <HStack gap="3" wrap="wrap">
      <Notice tone="ask">{contested.message}</Notice>
      {differences(contested, sheet, locale).map(({ heading, yours, now }) => (
        <Box key={heading}>
          <Text as="span" fontWeight="600">
            {heading}
          </Text>{' '}
          yours{' '}
          <Text as="span" fontFamily="mono">
            {yours}
          </Text>
          , now{' '}
          <Text as="span" fontFamily="mono">
            {now}
          </Text>
        </Box>
      ))}
      <Button size="xs" onClick={onAnyway}>
        {contested.again ? 'Redo anyway' : 'Undo anyway'}
      </Button>
      <Button size="xs" variant="outline" onClick={onLeave}>
        Cancel
      </Button>
    </HStack>
  );
}
