import { Link as ChakraLink } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import { Link } from 'react-router';

/** A link among words: underlined, so that it is known as one. */
export function TextLink({ to, children }: { to: string; children: ReactNode }) {
  return (
    <ChakraLink asChild textDecoration="underline">
      <Link to={to}>{children}</Link>
    </ChakraLink>
  );
}
