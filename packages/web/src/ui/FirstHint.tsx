import { Button, HStack, Text } from '@chakra-ui/react';
import { useState } from 'react';

const GONE = 'varn.hints';

/** The hints that were dismissed in this browser. */
function dismissed(): string[] {
  try {
    const held: unknown = JSON.parse(localStorage.getItem(GONE) ?? '[]');
    return Array.isArray(held) ? held.map(String) : [];
  } catch {
    return [];
  }
}

interface FirstHintProps {
  /** What it is remembered by. */
  readonly id: 'deskBar' | 'emptyLine' | 'headingStrip';
  /** Whether it stands in a line with others. */
  readonly inLine?: boolean;
  readonly children: string;
}

/** One line for newcomers, where they were seen to stall; dismissed once, it stays away. */
export function FirstHint({ id, inLine = false, children }: FirstHintProps) {
  const [isGone, setGone] = useState(() => dismissed().includes(id));
  if (isGone) return null;
  const dismiss = (): void => {
    setGone(true);
    try {
      localStorage.setItem(GONE, JSON.stringify([...new Set([...dismissed(), id])]));
    } catch {
      // Without room it is back at the next visit.
    }
  };
  return (
    <HStack
      role="note"
      gap="3"
      px="3"
      py={inLine ? '0.5' : '1.5'}
      my={inLine ? '0' : '1'}
      fontSize="13px"
      bg="brass.wash"
      borderRadius="4px"
      justify="space-between"
    >
      <Text>{children}</Text>
      <Button size="2xs" variant="outline" onClick={dismiss}>
        Got it
      </Button>
    </HStack>
  );
}
