import { paths } from '@varn/contract/paths';
import { lazy, Suspense, useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { request, sayError } from '../api/client';
import { useOwnStore } from '../api/ownStore';

const SignOutDialog = lazy(() => import('./SignOutDialog'));

/** Names under which what is begun and not written is kept. */
const BEGUN = 'begun.';

/** The way out. It asks first where something is begun or waits, as that goes with whoever leaves. */
export function useSignOut(): { readonly start: () => void; readonly dialog: ReactNode } {
  const own = useOwnStore();
  const { mutate } = useSWRConfig();
  const navigate = useNavigate();
  const [asked, setAsked] = useState<{ begun: number; trouble: string } | null>(null);
  const leave = async (begun: number): Promise<void> => {
    try {
      await request('DELETE', paths.session);
    } catch (error) {
      setAsked({ begun, trouble: sayError(error) });
      return;
    }
    await mutate(() => true, undefined, { revalidate: false });
    await navigate(addresses.signIn);
    // At last: a place that is left keeps what was begun in it.
    own.forgetAll();
  };
  const start = (): void => {
    const begun = own.names(BEGUN).length;
    if (begun > 0) setAsked({ begun, trouble: '' });
    else void leave(begun);
  };
  const dialog = asked && (
    <Suspense fallback={null}>
      <SignOutDialog
        {...asked}
        onLeave={() => void leave(asked.begun)}
        onStay={() => setAsked(null)}
      />
    </Suspense>
  );
  return { start, dialog };
}
