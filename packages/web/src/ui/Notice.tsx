import { Box, Flex } from '@chakra-ui/react';
import { CircleAlert, CircleCheck, Info, TriangleAlert } from 'lucide-react';
import type { ReactNode } from 'react';

const TONES = {
  note: { color: 'slate', Icon: Info },
  settled: { color: 'pine', Icon: CircleCheck },
  ask: { color: 'amber', Icon: TriangleAlert },
  refuse: { color: 'madder', Icon: CircleAlert },
} as const;

/** A sentence in a tone: told by its icon and its words, the colour only helps. */
export function Notice({ tone, children }: { tone: keyof typeof TONES; children: ReactNode }) {
  const { color, Icon } = TONES[tone];
  return (
    <Flex gap="2" align="start" color={color} role={tone === 'refuse' ? 'alert' : undefined}>
      <Box as="span" flex="none" mt="2px">
        <Icon size={16} aria-hidden />
      </Box>
      <Box as="span" minW="0" overflowWrap="anywhere">
        {children}
      </Box>
    </Flex>
  );
}
