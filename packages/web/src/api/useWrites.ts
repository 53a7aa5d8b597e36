import { useCallback, useEffect, useRef, useState } from 'react';
import type { NoAnswer } from './client';
import { insist } from './insist';

/**
 * Carries writes out one after another, each built when its turn comes, from what is known then.
 * A write that got no answer is sent again, the same, until it gets one.
 */
export function useWrites(): {
  /** Why a write waits for the server to answer again. */
  stuck: NoAnswer | null;
  /**
   * @param after what is to be read again before the next write's turn
   * @throws what the server refused with
   */
  inTurn: <T>(send: () => Promise<T>, after?: (answer: T) => Promise<void>) => Promise<T>;
} {
  const [stuck, setStuck] = useState<NoAnswer | null>(null);
  const last = useRef<Promise<unknown>>(Promise.resolve());
  const gone = useRef(false);
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
    };
  }, []);

  const inTurn = useCallback(
    <T>(send: () => Promise<T>, after?: (answer: T) => Promise<void>): Promise<T> => {
      const patience = { isGone: () => gone.current, onNoAnswer: setStuck };
      const turn = last.current.then(async () => {
        const answer = await insist(send, patience);
        if (after) await insist(() => after(answer), patience);
        return answer;
      });
      last.current = turn.then(
        () => setStuck(null),
        () => setStuck(null),
      );
      return turn;
    },
    [],
  );
  return { stuck, inTurn };
}
