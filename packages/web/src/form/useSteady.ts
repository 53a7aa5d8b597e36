import { useCallback, useLayoutEffect, useRef } from 'react';

/**
 * A handler that stays the same from one drawing to the next and does what the latest one does:
 * parts that are drawn only when their properties change can take it.
 */
export function useSteady<Args extends readonly unknown[]>(
  handler: (...args: Args) => void,
): (...args: Args) => void {
  const latest = useRef(handler);
  useLayoutEffect(() => {
    latest.current = handler;
  });
  return useCallback((...args: Args) => latest.current(...args), []);
}
