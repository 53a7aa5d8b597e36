import { Box, Center, Heading, Stack, Text } from '@chakra-ui/react';
import type { SessionView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useEffect } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { useSWRConfig } from 'swr';
import { useSession } from '../api/resources';
import { addresses } from '../addresses';
import { SignInForm } from './SignInForm';

/** The door: address and password, and in the demo its people, one click each. */
export function SignInPage() {
  const { data: session } = useSession();
  const { mutate } = useSWRConfig();
  const [search] = useSearchParams();
  const navigate = useNavigate();
  useEffect(() => {
    document.title = 'Sign in · Varn';
  }, []);

  const enter = async (session: SessionView): Promise<void> => {
    await mutate(paths.session, session, { revalidate: false });
    const to = search.get('to') ?? '';
    await navigate(/^\/(?!\/)/.test(to) ? to : addresses.workbooks, { replace: true });
  };

  return (
    <Center as="main" minH="100dvh" p="4">
      <Stack bg="leaf" borderWidth="1px" borderRadius="8px" p="7" gap="6" w="full" maxW="420px">
        <Box borderBottomWidth="6px" borderColor="brass" pb="3">
          <Heading as="h1" size="2xl">
            Varn
          </Heading>
          <Text color="ink.soft">Forms that write into sheets.</Text>
        </Box>
        <SignInForm demoPeople={session?.demoPeople ?? []} onSignedIn={enter} />
      </Stack>
    </Center>
  );
}
