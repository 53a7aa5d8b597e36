import { Navigate, Outlet, useLocation } from 'react-router';
import { sayError } from '../api/client';
import { useSession } from '../api/resources';
import { addresses } from '../addresses';
import { Notice } from './Notice';
import { Waiting } from './Waiting';

/** Lets through whoever is signed in; sends others to the sign-in page, and back afterwards. */
export function SignedIn() {
  const { data, error } = useSession();
  const { pathname } = useLocation();
  if (error) return <Notice tone="stop">{sayError(error)}</Notice>;
  if (!data) return <Waiting />;
  if (!data.person)
    return <Navigate to={`${addresses.signIn}?to=${encodeURIComponent(pathname)}`} replace />;
  return <Outlet />;
}
