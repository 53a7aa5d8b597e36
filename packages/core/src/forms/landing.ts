import { formatRunningNumber, kindOf, PLAIN_PATTERN, showValue, type Column } from '../kinds';
import type { LocaleFacts } from '../values';
import type { FormDefinition } from './definition';
import { fieldsOnPage, type ColumnsById, type Filling } from './filling';

/**
 * One cell of the landing row.
 * - `value`: as it will be stored. - `blank`: nothing, and nothing is wanted.
 * - `missing`: a required answer is not there yet. - `refused`: what is typed is no value yet.
 * - `byVarn`: filled in at writing; the text says what is expected.
 */
export interface LandingCell {
  readonly columnId: string;
  readonly state: 'value' | 'blank' | 'missing' | 'refused' | 'byVarn';
  readonly text: string;
}

/** What the landing row can tell of cells that Varn will fill in. */
export interface LandingFacts {
  readonly locale: LocaleFacts;
  /** The running number each column would give next, if nobody else writes before. */
  readonly nextNumbers: Readonly<Record<string, number>>;
}

/** The row about to be written, one cell per column of the sheet, in the sheet's order. */
export function landingRow(
  columns: readonly Column[],
  filling: Filling,
  { locale, nextNumbers }: LandingFacts,
): LandingCell[] {
  const verdicts = new Map(filling.verdicts.map((verdict) => [verdict.columnId, verdict.problem]));
  return columns.map((column): LandingCell => {
    const columnId = column.id;
    const byVarn = expected(column, nextNumbers);
    if (byVarn !== null) return { columnId, state: 'byVarn', text: byVarn };
    const problem = verdicts.get(columnId);
    if (problem?.code === 'required') return { columnId, state: 'missing', text: '' };
    if (problem && problem.code !== 'nothingTyped') return { columnId, state: 'refused', text: '' };
    const value = filling.cells[columnId] ?? null;
    return value === null
      ? { columnId, state: 'blank', text: '' }
      : { columnId, state: 'value', text: showValue(value, column, locale) };
  });
}

/** What Varn is expected to fill in, or `null` for a column it does not fill. */
export function expected(column: Column, nextNumbers: LandingFacts['nextNumbers']): string | null {
  if (kindOf(column).filledBy !== 'varn') return null;
  if (column.kind !== 'runningNumber') return 'on submit';
  const next = nextNumbers[column.id];
  return next === undefined
    ? 'on submit'
    : `about ${formatRunningNumber(column.settings.pattern ?? PLAIN_PATTERN, next)}`;
}

/** How far a form is from being ready: the required fields still missing, in page order. */
export function readiness(
  definition: FormDefinition,
  columns: ColumnsById,
  filling: Filling,
): { required: number; missing: readonly string[]; refused: readonly string[] } {
  const required = fieldsOnPage(definition, columns).filter(({ field }) => field.required === true);
  const of = (wanted: boolean): string[] =>
    filling.verdicts
      .filter(
        ({ problem }) =>
          problem.code !== 'nothingTyped' && (problem.code === 'required') === wanted,
      )
      .map(({ fieldId }) => fieldId);
  return { required: required.length, missing: of(true), refused: of(false) };
}
