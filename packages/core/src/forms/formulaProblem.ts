import {
  callProblem,
  FormulaError,
  orderingsIn,
  parseWritten,
  printReference,
  walk,
  withHeadings,
  type Expression,
  type FormulaProblem,
  type WrittenReference,
} from '../formula';
import type { LocaleFacts } from '../values';
import { bareFormula } from './evaluator';

/** What a formula of a form can call. Headings of other sheets are known to the server alone. */
export interface FormulaGround {
  /** Headings of the form's own sheet. */
  readonly headings: ReadonlySet<string>;
  /** Named ranges of the workbook. */
  readonly names: ReadonlySet<string>;
  /** Sheets of the workbook. */
  readonly sheets: ReadonlySet<string>;
  readonly locale: LocaleFacts;
}

/** What is wrong with a formula as it is written, or `null`. */
export function formulaProblem(formula: string, ground: FormulaGround): FormulaProblem | null {
  try {
    const tree = parseWritten(bareFormula(formula), ground.locale);
    return callProblem(tree) ?? unknownIn(tree, ground);
  } catch (error) {
    if (error instanceof FormulaError) return error.problem;
    throw error;
  }
}

/**
 * Headings that a condition or a message compares by size: while one of them is blank, it is not
 * decided yet.
 */
export function comparedBySize(
  formula: string,
  { locale }: Pick<FormulaGround, 'locale'>,
): string[] {
  try {
    const tree = parseWritten(bareFormula(formula), locale);
    const headingOf = (reference: WrittenReference): string | null =>
      reference.kind === 'heading' && reference.sheet === null ? reference.heading.trim() : null;
    return [...new Set(orderingsIn(tree, headingOf).flatMap(({ columns }) => columns))];
  } catch (error) {
    if (error instanceof FormulaError) return [];
    throw error;
  }
}

/**
 * A formula with the headings in it put in apostrophes, as `Price * Quantity` becomes
 * `'Deposit' * 'Quantity'`; `null` where it needs none, or is no formula with them either.
 */
export function withApostrophes(formula: string, ground: FormulaGround): string | null {
  const { headings, names } = ground;
  if (headings.size === 0 || formulaProblem(formula, ground) === null) return null;
  const named = new Set([...names].map((name) => name.toLowerCase()));
  const written = withHeadings(
    formula,
    headings,
    (name) => named.has(name.toLowerCase()),
    (heading) => printReference({ kind: 'heading', sheet: null, heading }),
  );
  return written !== formula && formulaProblem(written, ground) === null ? written : null;
}

type Written = Expression<WrittenReference>;

/** The first thing in a formula that nothing is called. */
function unknownIn(tree: Written, ground: FormulaGround): FormulaProblem | null {
  let found: FormulaProblem | null = null;
  walk(tree, (each) => {
    if (each.type === 'reference') found ??= unknownReference(each, ground);
  });
  return found;
}

function unknownReference(
  { reference, from, to }: Extract<Written, { type: 'reference' }>,
  { headings, names, sheets }: FormulaGround,
): FormulaProblem | null {
  if (reference.kind === 'name') {
    const { name } = reference;
    const isKnown = [...names].some((each) => each.toLowerCase() === name.toLowerCase());
    return isKnown ? null : { code: 'unknownName', name, from, to };
  }
  const { sheet } = reference;
  if (sheet !== null) {
    return sheets.has(sheet) ? null : { code: 'unknownSheet', name: sheet, from, to };
  }
  if (reference.kind !== 'heading') return null;
  const heading = reference.heading.trim();
  return headings.has(heading) ? null : { code: 'unknownHeading', heading, sheet: '', from, to };
}
