import { useSyncExternalStore } from 'react';

const QUERY = '(max-width: 480px) and (pointer: coarse)';

function listen(changed: () => void): () => void {
  const media = matchMedia(QUERY);
  media.addEventListener('change', changed);
  return () => media.removeEventListener('change', changed);
}

/** Whether the screen is a phone's. */
export const useIsPhone = (): boolean =>
  useSyncExternalStore(listen, () => matchMedia(QUERY).matches);
