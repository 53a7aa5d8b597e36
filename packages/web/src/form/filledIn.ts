import type { Answers, Filling } from '@varn/core';

/** What was filled in, and what of it nobody touched. */
export interface FilledIn {
  readonly answers: Answers;
  readonly untouched: ReadonlySet<string>;
}

/** What would be submitted, and what it comes to. */
export interface Submission {
  readonly filling: Filling;
  readonly sent: {
    /** What was typed, and what is seen in fields that nobody touched; of what is there. */
    readonly answers: Answers;
    readonly untouched: string[];
    /** The server's now, in milliseconds since 1970 UTC. */
    readonly pressedAt: number;
    readonly meant?: string[];
  };
}
