import { useSyncExternalStore } from 'react';
import { isBusy, onBusy } from '../api/busy';
import { Notice } from '../ui/Notice';
import { TopBar } from './TopBar';

/** The server asked to come again; that is done without anyone's doing. */
export function BusyBar() {
  const busy = useSyncExternalStore(onBusy, isBusy);
  if (!busy) return null;
  return (
    <TopBar role="status">
      <Notice tone="note">The server is busy. Varn tries again in a moment.</Notice>
    </TopBar>
  );
}
