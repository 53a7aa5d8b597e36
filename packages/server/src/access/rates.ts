import { Injectable } from '@nestjs/common';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import { Refused } from '../http/refused';

/** How many requests of a kind one may make, and in how many seconds. */
const RATES = {
  /** Signing in, from one address. */
  signIn: { points: 10, duration: 60 },
  /** Signing in to one account, from wherever. */
  account: { points: 10, duration: 300 },
  /** What computes on demand, for one person: as fast as one types, and not much faster. */
  tryOut: { points: 60, duration: 10 },
} as const;

export type RateName = keyof typeof RATES;

/** Counts what may not be asked too often. */
@Injectable()
export class Rates {
  private readonly limiters = new Map(
    Object.entries(RATES).map(([name, rate]) => [name, new RateLimiterMemory(rate)] as const),
  );

  /** Counts one request. @throws Refused 429 when there were too many */
  async count(name: RateName, who: string): Promise<void> {
    try {
      await this.limiters.get(name)?.consume(who);
    } catch (spent) {
      if (spent instanceof Error) throw spent;
      throw Refused.tooMany(RATES[name].duration);
    }
  }

  /** Forgets what was counted: what was tried has succeeded. */
  async forget(name: RateName, who: string): Promise<void> {
    await this.limiters.get(name)?.delete(who);
  }
}
