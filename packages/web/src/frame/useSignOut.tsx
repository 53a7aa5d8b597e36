import { Button, Dialog, HStack, Portal, Text } from '@chakra-ui/react';
import { paths } from '@varn/contract/paths';
import { sayCountOf } from '@varn/core';
import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { request, sayError } from '../api/client';
import { useOwnStore } from '../api/ownStore';
import { Notice } from '../ui/Notice';

/** Names under which what is begun and not written is kept. */
const BEGUN = 'begun.';

/** The way out. It asks first where something is begun or waits, as that goes with whoever leaves. */
export function useSignOut(): { readonly start: () => void; readonly dialog: ReactNode } {
  const own = useOwnStore();
  const { mutate } = useSWRConfig();
  const navigate = useNavigate();
  const [asked, setAsked] = useState(0);
  const [trouble, setTrouble] = useState('');
  const leave = async (): Promise<void> => {
    try {
      await request('DELETE', paths.session);
    } catch (error) {
      setTrouble(sayError(error));
      setAsked((count) => Math.max(1, count));
      return;
    }
    await mutate(() => true, undefined, { revalidate: false });
    await navigate(addresses.signIn);
    // At last: a place that is left keeps what was begun in it.
    own.forgetAll();
  };
  const start = (): void => {
    const begun = own.names(BEGUN).length;
    setTrouble('');
    setAsked(begun);
    if (begun === 0) void leave();
  };
  const begun = own.names(BEGUN).length;
  const dialog = (
    <Dialog.Root
      role="alertdialog"
      open={asked > 0}
      onOpenChange={(details) => !details.open && setAsked(0)}
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="leaf" maxW="420px">
            <Dialog.Header>
              <Dialog.Title>Sign out?</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              {begun > 0 && (
                <Text>
                  {sayCountOf(begun, 'thing')} you began {begun === 1 ? 'is' : 'are'} not written
                  yet. Signing out removes {begun === 1 ? 'it' : 'them'} from this browser.
                </Text>
              )}
              {trouble !== '' && <Notice tone="refuse">Not signed out. {trouble}</Notice>}
            </Dialog.Body>
            <Dialog.Footer>
              <HStack gap="2">
                <Button variant="outline" onClick={() => setAsked(0)}>
                  Stay
                </Button>
                <Button onClick={() => void leave()}>Sign out</Button>
              </HStack>
            </Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
  return { start, dialog };
}
