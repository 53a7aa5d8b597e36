import type { Decision, WriteSite } from './decision';

/** What a decision comes to, and what is kept to be answered to a repeat. */
export interface Decided {
  readonly decisions: readonly Decision[];
  readonly answer?: unknown;
}

/**
 * Decides one thing after the other: each is given as it is decided, or nothing where others may be
 * answered. The rest comes at the end, with the answer.
 */
export type Deciding = Generator<Decision | undefined, Decided>;

/**
 * Decides what is to be done, at once or in steps. The site is that of the transaction, or of a
 * moment before it, and then what was seen must stand still.
 */
export type Decide = (site: WriteSite) => Decided | Deciding;

const isInSteps = (decided: Decided | Deciding): decided is Deciding => 'next' in decided;

/** All that is decided, at once. */
export function atOnce(decided: Decided | Deciding): Decided {
  if (!isInSteps(decided)) return decided;
  const decisions: Decision[] = [];
  for (;;) {
    const { done, value } = decided.next();
    if (done) return { ...value, decisions: [...decisions, ...value.decisions] };
    if (value) decisions.push(value);
  }
}

/** The same one after the other. */
export function* oneByOne(decided: Decided | Deciding): Generator<Decision | undefined, unknown> {
  const { decisions, answer } = isInSteps(decided) ? yield* decided : decided;
  yield* decisions;
  return answer;
}
