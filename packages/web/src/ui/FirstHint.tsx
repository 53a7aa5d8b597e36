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
  readonly id: 'emptyLine' | 'headingStrip';
  readonly children: string;
}

/** One line for newcomers, where they were seen to stall; dismissed once, it stays away. */
export function FirstHint({ id, children }: FirstHintProps) {
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
      py="1.5"
      my="1"
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
