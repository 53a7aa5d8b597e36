import { Button } from '@chakra-ui/react';
import type { DemoPerson, SessionView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { lazy, Suspense, useEffect, useState, useSyncExternalStore } from 'react';
import { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { get } from '../api/client';
import { isSignedOut, onSignedOut, setSignedOut } from '../api/signedOut';
import { Notice } from '../ui/Notice';
import { TopBar } from './TopBar';

const SignInDialog = lazy(() => import('../signIn/SignInDialog'));

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
      <TopBar role="alert">
        <Notice tone="ask">You are signed out. What you typed is kept.</Notice>
        <Button size="xs" flex="none" onClick={() => setOpen(true)}>
          Sign in
        </Button>
      </TopBar>
      {open && (
        <Suspense fallback={null}>
          <SignInDialog
            demoPeople={demoPeople}
            onSignedIn={onSignedIn}
            onClose={() => setOpen(false)}
          />
        </Suspense>
      )}
    </>
  );
}
