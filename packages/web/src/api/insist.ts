import { NoAnswer, SignedOut } from './client';
import { untilSignedIn } from './signedOut';

/** How long what got no answer waits before it is sent again, longer each time. */
const WAITS_MS = [1000, 2000, 4000, 8000];

/** @param attempt how often it was sent again, from 0 */
export const waitBefore = (attempt: number): number =>
  WAITS_MS[Math.min(attempt, WAITS_MS.length - 1)] ?? 0;

const sleep = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

export interface Insisting {
  /** Told each time no answer came; 'leave' where someone else goes on with it. */
  readonly onNoAnswer?: (error: NoAnswer) => unknown;
  /** Whether nobody waits for it any more. */
  readonly isGone?: () => boolean;
  /** Waits before it is sent again; may be cut short. */
  readonly pause?: (ms: number) => Promise<void>;
}

/**
 * Sends until there is an answer, however often no answer comes. A refusal is an answer.
 *
 * @throws what the server refused with; NoAnswer when nobody waits for it any more
 */
export async function insist<T>(
  send: () => Promise<T>,
  { onNoAnswer, isGone = () => false, pause = sleep }: Insisting = {},
): Promise<T> {
  for (let attempt = 0; ; attempt += 1) {
    try {
      return await send();
    } catch (error) {
      if (!(error instanceof NoAnswer) || isGone()) throw error;
      if (onNoAnswer?.(error) === 'leave') throw error;
      if (error instanceof SignedOut) await untilSignedIn();
      else await pause(waitBefore(attempt));
    }
  }
}
