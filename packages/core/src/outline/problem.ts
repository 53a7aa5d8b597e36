/** What is wrong with an outline, and where: lines and columns count from 1. */
export type OutlineProblem = {
  readonly line: number;
  readonly column: number;
  /** How many characters it is about. */
  readonly length: number;
} & (
  | { readonly code: 'tooManyLines'; readonly count: number; readonly most: number }
  | { readonly code: 'noRoom'; readonly most: number }
  | { readonly code: 'lineTooLong'; readonly count: number; readonly most: number }
  | { readonly code: 'unknownKind'; readonly text: string; readonly near: string | null }
  | { readonly code: 'unknownWord'; readonly text: string; readonly near: string | null }
  | { readonly code: 'commaWanted'; readonly text: string }
  | { readonly code: 'doesNotFit'; readonly text: string; readonly kind: string }
  | { readonly code: 'noNumber'; readonly text: string }
  | { readonly code: 'notSoOften'; readonly text: string; readonly most: number }
  | { readonly code: 'outOfBounds'; readonly text: string; readonly allowed: string }
  | { readonly code: 'noFile'; readonly text: string }
  | { readonly code: 'ruleUnread'; readonly text: string }
  | { readonly code: 'noFormula'; readonly word: string }
  | { readonly code: 'labelMissing' }
  | { readonly code: 'columnTwice'; readonly heading: string; readonly first: number }
  | {
      readonly code: 'otherKind';
      readonly heading: string;
      readonly is: string;
      readonly said: string;
    }
  | { readonly code: 'membersWanted'; readonly label: string }
  | { readonly code: 'standsAlone'; readonly text: string }
);

/** Why a piece of a line can't be read; its place is known to whoever reads the line. */
export type PieceProblem = OutlineProblem extends infer P
  ? P extends unknown
    ? Omit<P, 'line' | 'column' | 'length'>
    : never
  : never;

/** Thrown while a line is read; carries what and, within the line, where. */
export class OutlineError extends Error {
  constructor(
    readonly problem: PieceProblem,
    /** Where in the line, from 0, and how much of it. */
    readonly at: number,
    readonly length: number,
  ) {
    super(`outline: ${problem.code}`);
    this.name = 'OutlineError';
  }
}
