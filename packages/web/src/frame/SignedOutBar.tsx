import { Button, Dialog, HStack, Portal, Stack } from '@chakra-ui/react';
import type { DemoPerson, SessionView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { lazy, Suspense, useEffect, useState, useSyncExternalStore } from 'react';
import { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { get } from '../api/client';
import { isSignedOut, onSignedOut, setSignedOut } from '../api/signedOut';
import { Notice } from '../ui/Notice';

const SignInForm = lazy(() =>
  import('../signIn/SignInForm').then((module) => ({ default: module.SignInForm })),
);

/** The session ended while one worked: everything stands where it was, and signing in goes on there. */
export function SignedOutBar({ personId }: { personId: string }) {
  const isOut = useSyncExternalStore(onSignedOut, isSignedOut);
  const [open, setOpen] = useState(false);
  // Read beside what is held of the session: that would lead away from here.
  const [demoPeople, setDemoPeople] = useState<readonly DemoPerson[]>([]);
  useEffect(() => {
    if (!open) return;
    get<SessionView>(paths.session).then(
      (session) => setDemoPeople(session.demoPeople),
      // Without it one signs in by address and password.
      () => undefined,
    );
  }, [open]);
  const { mutate } = useSWRConfig();
  const onSignedIn = async (session: SessionView): Promise<void> => {
    // What stands here is one person’s own: someone else begins with a page of theirs.
    if (session.person?.id !== personId) window.location.assign(addresses.workbooks);
    else {
      setOpen(false);
      setSignedOut(false);
      await mutate(() => true);
    }
  };
  if (!isOut) return null;
  return (
    <>
      <HStack
        role="alert"
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
        <Notice tone="ask">You are signed out. What you typed is kept.</Notice>
        <Button size="xs" flex="none" onClick={() => setOpen(true)}>
          Sign in
        </Button>
      </HStack>
      <Dialog.Root open={open} onOpenChange={(details) => setOpen(details.open)}>
        <Portal>
          <Dialog.Backdrop />
          <Dialog.Positioner>
            <Dialog.Content bg="leaf" maxW="420px">
              <Dialog.Header>
                <Dialog.Title>Sign in to go on</Dialog.Title>
              </Dialog.Header>
              <Dialog.Body pb="6">
                <Stack gap="5">
                  <Suspense fallback={null}>
                    <SignInForm demoPeople={demoPeople} onSignedIn={onSignedIn} />
                  </Suspense>
                </Stack>
              </Dialog.Body>
            </Dialog.Content>
          </Dialog.Positioner>
        </Portal>
      </Dialog.Root>
    </>
  );
}
