import { useEffect } from 'react';
import { Navigate, Outlet, useLocation } from 'react-router';
import { sayError } from '../api/client';
import { signedIn } from '../api/ownStore';
import { useSession } from '../api/resources';
import { useSendingLine } from '../api/useWaitingLine';
import { addresses } from '../addresses';
import { Notice } from '../ui/Notice';
import { BusyBar } from './BusyBar';
import { SignedOutBar } from './SignedOutBar';
import { Waiting } from '../ui/Waiting';
import { useKeptFocus } from './useKeptFocus';

/** Lets through whoever is signed in; sends others to the sign-in page, and back afterwards. */
export function SignedIn() {
  const { data, error } = useSession();
  const { pathname, search } = useLocation();
  const personId = data?.person?.id;
  useKeptFocus();
  useEffect(() => {
    if (personId !== undefined) signedIn(personId);
  }, [personId]);
  if (error) return <Notice tone="refuse">{sayError(error)}</Notice>;
  if (!data) return <Waiting />;
  if (!data.person) {
    const to = encodeURIComponent(pathname + search);
    return <Navigate to={`${addresses.signIn}?to=${to}`} replace />;
  }
  return (
    <>
      <SignedOutBar personId={data.person.id} />
      <BusyBar />
      <SendsLine />
      <Outlet />
    </>
  );
}

/** Sends what waits, from whichever page one is on. */
function SendsLine() {
  useSendingLine();
  return null;
}
