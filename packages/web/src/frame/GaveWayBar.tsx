import { Notice } from '../ui/Notice';
import { TopBar } from './TopBar';

/** This window is one of too many, and no longer told of changes until one comes back to it. */
export function GaveWayBar() {
  return (
    <TopBar role="status">
      <Notice tone="note">
        You have more than 20 windows of Varn open. This one shows what others write when you come
        back to it.
      </Notice>
    </TopBar>
  );
}
