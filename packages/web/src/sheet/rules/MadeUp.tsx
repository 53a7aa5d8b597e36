import { Box, HStack, Text } from '@chakra-ui/react';
import { examplesOf, type Column, type LocaleFacts, type Rule } from '@varn/core';
import { useMemo } from 'react';

interface MadeUpProps {
  readonly rule: Rule;
  readonly column: Column;
  readonly locale: LocaleFacts;
  readonly now: number;
}

/** Made-up values that pass a rule, and some that break it. */
export function MadeUp({ rule, column, locale, now }: MadeUpProps) {
  const { passing, failing } = useMemo(
    () => examplesOf(rule, column, { locale, now }),
    [rule, column, locale, now],
  );
  const rows = [
    ['Passes', passing],
    ['Breaks it', failing],
  ] as const;
  return (
    <Box as="dl" fontSize="13px">
      {rows.map(([name, values]) =>
        values.length === 0 ? null : (
          <HStack key={name} align="baseline" gap="2">
            <Text as="dt" color="ink.soft" flexShrink="0" minW="64px">
              {name}
            </Text>
            <Text as="dd" fontFamily="mono" fontSize="12px" wordBreak="break-word">
              {values.join('   ')}
            </Text>
          </HStack>
        ),
      )}
    </Box>
  );
}
