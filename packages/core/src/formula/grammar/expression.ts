/** Where something stands in a formula's text: `from` its first character, `to` after its last. */
export interface Span {
  readonly from: number;
  readonly to: number;
}

export type BinaryOperator =
  '+' | '-' | '*' | '/' | '^' | '&' | '=' | '<>' | '<' | '<=' | '>' | '>=';
export type UnaryOperator = '+' | '-' | '%';

/** The error values of OpenFormula (ODF 1.3 part 4, 6.13 and 5.12). */
export const ERROR_CODES = [
  '#NULL!',
  '#DIV/0!',
  '#VALUE!',
  '#REF!',
  '#NAME?',
  '#NUM!',
  '#N/A',
] as const;
export type ErrorCode = (typeof ERROR_CODES)[number];

/** A constant of an inline array. */
export type Constant = number | string | boolean | { readonly error: ErrorCode };

/**
 * A formula as a tree. `R` is how references stand in it: as written (`WrittenReference`), or as
 * they are stored, by identity (`Reference`).
 */
export type Expression<R> = Span &
  (
    | { readonly type: 'constant'; readonly value: Constant }
    | { readonly type: 'omitted' }
    | { readonly type: 'reference'; readonly reference: R }
    | {
        readonly type: 'unary';
        readonly operator: UnaryOperator;
        readonly operand: Expression<R>;
      }
    | {
        readonly type: 'binary';
        readonly operator: BinaryOperator;
        readonly left: Expression<R>;
        readonly right: Expression<R>;
      }
    | { readonly type: 'call'; readonly name: string; readonly args: readonly Expression<R>[] }
    | { readonly type: 'array'; readonly rows: readonly (readonly Constant[])[] }
  );

/** Why a text is no formula, and where: data; `words/formulaProblems.ts` has the sentences. */
export type FormulaProblem = Span &
  (
    | { readonly code: 'empty' }
    | { readonly code: 'tooLong'; readonly length: number; readonly most: number }
    | { readonly code: 'tooDeep'; readonly most: number }
    | { readonly code: 'tooManyOperators'; readonly most: number }
    | { readonly code: 'strayCharacter'; readonly character: string }
    | { readonly code: 'unclosedText' }
    | { readonly code: 'unclosedQuote' }
    | { readonly code: 'unclosedParenthesis'; readonly name: string | null }
    | { readonly code: 'unclosedArray' }
    | { readonly code: 'unevenArray'; readonly first: number; readonly here: number }
    | { readonly code: 'valueWanted'; readonly found: string }
    | { readonly code: 'operatorWanted'; readonly found: string }
    | { readonly code: 'numberTooLarge'; readonly text: string }
    | { readonly code: 'unknownFunction'; readonly name: string; readonly near: string | null }
    | {
        readonly code: 'argumentCount';
        readonly name: string;
        readonly given: number;
        readonly least: number;
        /** `null` where any number goes. */
        readonly most: number | null;
      }
    /** A range that goes on down, written with a colon. */
    | { readonly code: 'openColon'; readonly instead: string }
    | { readonly code: 'unknownName'; readonly name: string }
    | { readonly code: 'unknownSheet'; readonly name: string }
    | { readonly code: 'unknownHeading'; readonly heading: string; readonly sheet: string }
    | { readonly code: 'noRecordHere'; readonly heading: string; readonly sheet: string | null }
    | { readonly code: 'severalHeadings'; readonly heading: string }
  );

/** Thrown by the lexer and the parser; carries where and what. */
export class FormulaError extends Error {
  constructor(readonly problem: FormulaProblem) {
    super(`formula: ${problem.code} at ${problem.from}`);
    this.name = 'FormulaError';
  }
}
