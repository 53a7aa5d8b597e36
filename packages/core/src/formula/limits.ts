import type { Notation } from './grammar/lexer';
import { printReference, type WrittenReference } from './references/written';

/** One class of a table of limits: everything from a limit up to the next one. */
export interface LimitClass {
  /** The least value of the class; the first class has none and takes all below the second. */
  readonly from: number | null;
  readonly label: string;
}

/** What is wrong with a table of limits. */
export type LimitsProblem =
  | { readonly code: 'tooFewClasses' }
  | { readonly code: 'limitMissing' | 'limitNotRising' | 'labelMissing'; readonly at: number };

/** Looks a table of limits through: limits rise and every class has a label. */
export function checkLimits(classes: readonly LimitClass[]): LimitsProblem | null {
  if (classes.length < 2) return { code: 'tooFewClasses' };
  for (const [at, { from, label }] of classes.entries()) {
    if (label.trim() === '') return { code: 'labelMissing', at };
    if (at === 0) continue;
    if (from === null) return { code: 'limitMissing', at };
    const below = classes[at - 1]?.from ?? -Infinity;
    if (from <= below) return { code: 'limitNotRising', at };
  }
  return null;
}

/**
 * The formula of a table of limits, without `=`: each value falls into one class and one only,
 * a limit itself into the class it begins; what is no number gives a blank text.
 *
 * @param of where the value is from: a heading, or a cell
 */
export function limitsFormula(
  of: WrittenReference,
  classes: readonly LimitClass[],
  { decimal }: Notation,
): string {
  const value = printReference(of);
  const text = (label: string): string => `"${label.replaceAll('"', '""')}"`;
  const number = (limit: number): string => String(limit).replace('.', decimal);
  const parts = classes.map(({ label }, at) => {
    const next = classes[at + 1]?.from ?? null;
    const holds = next === null ? 'ISNUMBER(' + value + ')' : `${value}<${number(next)}`;
    return `${holds};${text(label)}`;
  });
  return `IF(ISNUMBER(${value});IFS(${parts.join(';')});"")`;
}

/** Reads a formula of a table of limits back, or `null` where it is none. */
export function readLimits(
  formula: string,
  of: WrittenReference,
  notation: Notation,
): LimitClass[] | null {
  const value = printReference(of);
  const start = `IF(ISNUMBER(${value});IFS(`;
  if (!formula.startsWith(start)) return null;
  const classes: LimitClass[] = [];
  let rest = formula.slice(start.length);
  let from: number | null = null;
  for (;;) {
    const part = /^(.*?);"((?:[^"]|"")*)"(;|\))/s.exec(rest);
    if (!part) return null;
    const [whole, holds = '', label = '', end] = part;
    classes.push({ from, label: label.replaceAll('""', '"') });
    rest = rest.slice(whole.length);
    if (end === ')') break;
    from = Number(holds.slice(value.length + 1).replace(notation.decimal, '.'));
    if (!Number.isFinite(from)) return null;
  }
  return limitsFormula(of, classes, notation) === formula ? classes : null;
}
