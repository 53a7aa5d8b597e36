import { HStack } from '@chakra-ui/react';
import type { ReactNode } from 'react';

interface TopBarProps {
  readonly role: 'alert' | 'status';
  readonly children: ReactNode;
}

/** What everyone has to know, over whichever page they are on. */
export function TopBar({ role, children }: TopBarProps) {
  return (
    <HStack
      role={role}
      position="fixed"
      top="0"
      insetX="0"
      zIndex="toast"
      bg="leaf"
      borderBottomWidth="1px"
      borderColor="edge"
      boxShadow="float"
      px="5"
      minH="44px"
      gap="4"
      justify="center"
    >
      {children}
    </HStack>
  );
}
