import { formatRunningNumber, kindOf, PLAIN_PATTERN, showValue, type Column } from '../kinds';
import type { Cells, LocaleFacts } from '../values';
import type { ColumnsById } from './definition';
import type { Filling } from './filling';
import type { PreparedForm } from './prepared';

/**
 * One cell of the landing row.
 * - `value`: as it will be stored. - `blank`: nothing, and nothing is wanted.
 * - `missing`: a required answer is not there yet. - `refused`: what is typed is no value yet.
 * - `awaited`: it is being looked up. - `byVarn`: filled in at writing; the text says what is expected.
 */
export interface LandingCell {
  readonly columnId: string;
  readonly state: 'value' | 'blank' | 'missing' | 'refused' | 'awaited' | 'byVarn';
  readonly text: string;
}

/** What the landing row can tell of cells that Varn will fill in. */
export interface LandingFacts {
  readonly locale: LocaleFacts;
  /** The running number each column would give next, if nobody else writes before. */
  readonly nextNumbers: Readonly<Record<string, number>>;
  /** Of a stored record that is corrected: its cells as they are, and the columns the form writes. */
  readonly stored?: { readonly cells: Cells; readonly written: ReadonlySet<string> } | undefined;
}

/** The row about to be written, one cell per column of the sheet, in the sheet's order. */
export function landingRow(
  columns: readonly Column[],
  filling: Filling,
  { locale, nextNumbers, stored }: LandingFacts,
): LandingCell[] {
  const verdicts = new Map(filling.verdicts.map((verdict) => [verdict.columnId, verdict.problem]));
  return columns.map((column): LandingCell => {
    const columnId = column.id;
    const byVarn = stored ? null : expected(column, nextNumbers);
    if (byVarn !== null) return { columnId, state: 'byVarn', text: byVarn };
    if (filling.awaited.has(columnId)) return { columnId, state: 'awaited', text: '' };
    const problem = verdicts.get(columnId);
    if (problem?.code === 'required') return { columnId, state: 'missing', text: '' };
    if (problem && problem.code !== 'nothingTyped') return { columnId, state: 'refused', text: '' };
    const kept = stored && !stored.written.has(columnId) ? stored.cells[columnId] : null;
    const value = filling.cells[columnId] ?? filling.computed[columnId] ?? kept ?? null;
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
    : `will be ${formatRunningNumber(column.settings.pattern ?? PLAIN_PATTERN, next)}`;
}

/** How far a form is from being ready. */
export interface Readiness {
  /** How many answers are needed now. */
  readonly required: number;
  /** Inputs without the answer they need, and inputs whose answer is not right, in page order. */
  readonly missing: readonly string[];
  readonly refused: readonly string[];
}

export function readiness(filling: Filling): Readiness {
  const of = (wanted: boolean): string[] =>
    filling.verdicts
      .filter(
        ({ problem }) =>
          problem.code !== 'nothingTyped' && (problem.code === 'required') === wanted,
      )
      .map(({ fieldId }) => fieldId);
  return { required: filling.required.size, missing: of(true), refused: of(false) };
}

/** What is said once a record is written; `{#column id}` in the form's words gives an answer. */
export function afterMessage<F>(
  { definition: { after }, columns }: PreparedForm<F>,
  { cells, computed }: Pick<Filling, 'cells' | 'computed'>,
  locale: LocaleFacts,
): string {
  return (after?.message ?? '').replace(QUOTED_ID, (whole, id: string) => {
    const column = columns.get(id);
    if (!column) return whole;
    return showValue(cells[id] ?? computed[id] ?? null, column, locale);
  });
}

const QUOTED_ID = /\{#([^{}]*)\}/g;

/** A message as people write it: `{Heading}` for what is stored by the column's id. */
export function messageWithHeadings(message: string, columns: ColumnsById): string {
  return message.replace(QUOTED_ID, (whole, id: string) => {
    const column = columns.get(id);
    return column ? `{${column.heading}}` : whole;
  });
}

/** The message to store of one that people wrote. Braces around what is no heading stay as they are. */
export function messageWithIds(message: string, columns: ColumnsById): string {
  const ids = new Map([...columns.values()].map(({ heading, id }) => [heading, id]));
  return message.replace(/\{([^{}#][^{}]*)\}/g, (whole, heading: string) => {
    const id = ids.get(heading.trim());
    return id === undefined ? whole : `{#${id}}`;
  });
}
