import { Box, Button, HStack, Stack, Text } from '@chakra-ui/react';
import { sayCountOf } from '@varn/core';
import { useEffect, useRef } from 'react';
import { Notice } from '../ui/Notice';
import type { AskedDeletion } from './useDeleting';

interface UsesStripProps {
  readonly asked: AskedDeletion;
  readonly onCarryOut: () => void;
  readonly onLeave: () => void;
}

/** What uses something that is to be deleted, and what becomes of that. */
export function UsesStrip({ asked, onCarryOut, onLeave }: UsesStripProps) {
  const { what, uses, more, values } = asked;
  const leave = useRef<HTMLButtonElement>(null);
  useEffect(() => leave.current?.focus(), []);
  return (
    <Stack role="group" aria-label={`What uses ${what}`} gap="1" maxH="40dvh" overflow="auto">
      <Notice tone="ask">{what} is in use. If you delete it:</Notice>
      <Box as="ul" ps="6" listStyleType="disc">
        {values > 0 && <li>{sayCountOf(values, 'value')} in it will be hidden until you undo</li>}
        {uses.map(({ where, becomes }) => (
          <li key={`${where} ${becomes}`}>
            <Text as="span" fontWeight="600">
              {where}
            </Text>{' '}
            {becomes}
          </li>
        ))}
        {more > 0 && <li>and {sayCountOf(more, 'other')}</li>}
      </Box>
      <HStack>
        <Button size="xs" variant="outline" color="madder" onClick={onCarryOut}>
          Delete anyway
        </Button>
        <Button ref={leave} size="xs" variant="outline" onClick={onLeave}>
          Cancel
        </Button>
        <Text color="ink.soft" fontSize="12px">
          Undo brings it back.
        </Text>
      </HStack>
    </Stack>
  );
}
