import { Box, CloseButton, Flex, Heading } from '@chakra-ui/react';
import type { ReactNode } from 'react';

interface MarginProps {
  readonly title: string;
  readonly onClose: () => void;
  readonly children: ReactNode;
}

/** Notes at the right of the page on what is chosen there. Escape closes it. */
export function Margin({ title, onClose, children }: MarginProps) {
  return (
    <Box
      as="aside"
      aria-label={title}
      w={{ base: 'full', lg: '280px' }}
      maxH={{ base: '40dvh', lg: 'none' }}
      flex="none"
      borderStartWidth={{ lg: '1px' }}
      borderTopWidth={{ base: '1px', lg: '0' }}
      overflow="auto"
      tabIndex={0}
      p="4"
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.preventDefault();
        onClose();
      }}
    >
      <Flex justify="space-between" align="center" mb="2">
        <Heading as="h2" size="sm">
          {title}
        </Heading>
        <CloseButton size="xs" onClick={onClose} aria-label={`Close ${title}`} />
      </Flex>
      {children}
    </Box>
  );
}
