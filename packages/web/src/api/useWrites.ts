import { useCallback, useEffect, useRef, useState } from 'react';
import { NoAnswer } from './client';

/** How long a write without an answer waits before it is sent again, longer each time. */
const WAITS_MS = [1000, 2000, 4000, 8000];

/** @param attempt how often it was sent again, from 0 */
export const waitBefore = (attempt: number): number =>
  WAITS_MS[Math.min(attempt, WAITS_MS.length - 1)] ?? 0;

/**
 * Carries writes out one after another, each built when its turn comes, from what is known then.
 * A write that got no answer is sent again, the same, until it gets one.
 */
export function useWrites(): {
  /** Whether a write waits for the server to answer again. */
  stuck: boolean;
  /**
   * @param after what is to be read again before the next write's turn
   * @throws what the server refused with
   */
  inTurn: <T>(send: () => Promise<T>, after?: (answer: T) => Promise<void>) => Promise<T>;
} {
  const [stuck, setStuck] = useState(false);
  const last = useRef<Promise<unknown>>(Promise.resolve());
  const gone = useRef(false);
  useEffect(() => {
    gone.current = false;
    return () => {
      gone.current = true;
    };
  }, []);

  const insist = useCallback(async <T>(send: () => Promise<T>): Promise<T> => {
    for (let attempt = 0; ; attempt += 1) {
      try {
        const answer = await send();
        setStuck(false);
        return answer;
      } catch (error) {
        if (!(error instanceof NoAnswer) || gone.current) throw error;
        setStuck(true);
        await new Promise((resolve) => setTimeout(resolve, waitBefore(attempt)));
      }
    }
  }, []);

  const inTurn = useCallback(
    <T>(send: () => Promise<T>, after?: (answer: T) => Promise<void>): Promise<T> => {
      const turn = last.current.then(async () => {
        const answer = await insist(send);
        if (after) await insist(() => after(answer));
        return answer;
      });
      last.current = turn.catch(() => undefined);
      return turn;
    },
    [insist],
  );
  return { stuck, inTurn };
}
