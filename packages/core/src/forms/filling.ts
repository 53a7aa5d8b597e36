import { formatRunningNumber, kindOf, PLAIN_PATTERN, typedValue, type Column } from '../kinds';
import type { ReadingContext } from '../kinds';
import type { CellValue, Problem } from '../values';
import { isTyped, type FormDefinition, type FormField } from './definition';

/** What was typed, by field id. A field that is absent was left blank. */
export type Answers = Readonly<Record<string, string>>;

/** Why a field's answer can't be written. */
export interface Verdict {
  readonly fieldId: string;
  readonly columnId: string;
  readonly problem: Problem;
  /** It is only asked about: written all the same when the person says that it is meant. */
  readonly ask?: true;
}

/** A form filled in so far: what would be stored, and what stands in the way. */
export interface Filling {
  /** Values by column id, of the fields that could be read. Blank ones are left out. */
  readonly cells: Readonly<Record<string, CellValue>>;
  /** One verdict at most per field, in the order of the page. */
  readonly verdicts: readonly Verdict[];
}

/** Columns by id, with which a form's fields find theirs. */
export type ColumnsById = ReadonlyMap<string, Column>;

/** The fields whose column is still in the sheet, each with its column. */
export function fieldsOnPage(
  definition: FormDefinition,
  columns: ColumnsById,
): { field: FormField; column: Column }[] {
  return definition.fields.flatMap((field) => {
    const column = columns.get(field.columnId);
    return column ? [{ field, column }] : [];
  });
}

/** Reads one field's answer: its value, or the problem that keeps it from being one. */
export function readField(
  field: FormField,
  column: Column,
  answer: string,
  context: ReadingContext,
): { value: CellValue; problem: Problem | null; ask?: true } {
  const kind = kindOf(column);
  if (!isTyped(column)) return { value: null, problem: { code: 'notTyped', kind: kind.label } };
  const reading = kind.read(answer, column, context);
  if (!reading.ok) return { value: null, problem: reading.problem };
  if (reading.ask) return { value: reading.value, problem: reading.ask, ask: true };
  const missing = reading.value === null && field.required === true;
  return { value: reading.value, problem: missing ? { code: 'required' } : null };
}

/**
 * Fills a form: reads every answer into its column's value. The browser does so at every key,
 * the server at submit; a submit is accepted when there is no verdict.
 *
 * @param meant ids of fields whose answers are meant, although they were asked about
 */
export function fill(
  definition: FormDefinition,
  answers: Answers,
  columns: ColumnsById,
  context: ReadingContext,
  meant: ReadonlySet<string> = new Set(),
): Filling {
  const cells: Record<string, CellValue> = {};
  const verdicts: Verdict[] = [];
  const onPage = fieldsOnPage(definition, columns);
  for (const { field, column } of onPage) {
    if (!isTyped(column) && (answers[field.id] ?? '') === '') continue;
    const found = readField(field, column, answers[field.id] ?? '', context);
    const { value, ask } = found;
    const problem = ask && meant.has(field.id) ? null : found.problem;
    if (problem) {
      verdicts.push({ fieldId: field.id, columnId: column.id, problem, ...(ask && { ask }) });
    } else if (value !== null) cells[column.id] = value;
  }
  const first = onPage.find(({ column }) => isTyped(column));
  if (first && verdicts.length === 0 && Object.keys(cells).length === 0) {
    const { field, column } = first;
    verdicts.push({ fieldId: field.id, columnId: column.id, problem: { code: 'nothingTyped' } });
  }
  return { cells, verdicts };
}

/** The answers a form starts with. */
export function startingAnswers(
  definition: FormDefinition,
  columns: ColumnsById,
  context: ReadingContext,
): Answers {
  const answers: Record<string, string> = {};
  for (const { field, column } of fieldsOnPage(definition, columns)) {
    if (!field.start) continue;
    const { start } = field;
    answers[field.id] =
      start.kind === 'text'
        ? start.text
        : typedValue(startOf(start.kind, column, context), column, context.locale);
  }
  return answers;
}

function startOf(start: 'today' | 'now', column: Column, { now }: ReadingContext): number {
  const day = Math.floor(now);
  if (start === 'today') return day;
  return kindOf(column).iso === 'time' ? Math.floor((now - day) * 1440) / 1440 : now;
}

/** What Varn fills in when the record is written. */
export interface WrittenFacts {
  readonly by: string;
  /** The serial of now in the workbook's zone. */
  readonly at: number;
  /** The form's name, or what else it comes through. */
  readonly door: string;
  /** Gives the next running number of a column. */
  readonly nextNumber: (columnId: string) => number;
}

/** The cells of a new record that no one types: running numbers, written at, written by. */
export function filledByVarn(
  columns: Iterable<Column>,
  facts: WrittenFacts,
): Record<string, CellValue> {
  const cells: Record<string, CellValue> = {};
  for (const column of columns) {
    if (column.kind === 'writtenAt') cells[column.id] = facts.at;
    else if (column.kind === 'writtenBy') cells[column.id] = facts.by;
    else if (column.kind === 'door') cells[column.id] = facts.door;
    else if (column.kind === 'runningNumber') {
      const pattern = column.settings.pattern ?? PLAIN_PATTERN;
      cells[column.id] = formatRunningNumber(pattern, facts.nextNumber(column.id));
    }
  }
  return cells;
}
