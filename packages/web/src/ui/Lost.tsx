import { Button, Center, Heading, Stack, Text } from '@chakra-ui/react';
import { Component, type ReactNode } from 'react';
import { Link } from 'react-router';
import { addresses } from '../addresses';

/** There is nothing at this address, or showing it failed. */
export function Lost({ error }: { error?: unknown }) {
  const message = error instanceof Error ? error.message : 'There is nothing at this address.';
  return (
    <Center as="main" h="full" p="6">
      <Stack gap="4" maxW="460px">
        <Heading as="h1" size="xl">
          Nothing to show here
        </Heading>
        <Text>{message}</Text>
        <Button asChild alignSelf="start">
          <Link to={addresses.workbooks}>Go to the workbooks</Link>
        </Button>
      </Stack>
    </Center>
  );
}

interface LostBoundaryProps {
  /** Where one is. */
  readonly at: string;
  readonly children: ReactNode;
}

/** Shows what went wrong where a page failed, until one goes elsewhere. */
export class LostBoundary extends Component<LostBoundaryProps, { error: unknown }> {
  override state: { error: unknown } = { error: null };

  static getDerivedStateFromError(error: unknown): { error: unknown } {
    return { error };
  }

  override componentDidUpdate({ at }: LostBoundaryProps): void {
    if (at !== this.props.at && this.state.error !== null) this.setState({ error: null });
  }

  override render(): ReactNode {
    return this.state.error === null ? this.props.children : <Lost error={this.state.error} />;
  }
}
