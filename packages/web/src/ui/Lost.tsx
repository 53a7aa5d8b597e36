import { Button, Center, Heading, Stack, Text } from '@chakra-ui/react';
import { Link, useRouteError } from 'react-router';
import { addresses } from '../addresses';

/** There is nothing at this address, or showing it failed. */
export function Lost() {
  const error = useRouteError();
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
