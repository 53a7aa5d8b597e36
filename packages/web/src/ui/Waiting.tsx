import { Center, Spinner } from '@chakra-ui/react';

/** Something is being fetched. */
export function Waiting() {
  return (
    <Center h="full" minH="200px" role="status" aria-label="Loading">
      <Spinner color="brass" />
    </Center>
  );
}
