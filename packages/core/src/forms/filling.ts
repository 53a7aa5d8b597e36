import { foldText, showValue, type Computing, type ReadingContext } from '../kinds';
import { weightiest } from '../rules';
import {
  inTheWay,
  isTyped,
  judgeCell,
  judgeChange,
  type Doubt,
  type Judged,
  type JudgedCell,
  type Verdict,
} from '../records';
import {
  isErrorValue,
  quote,
  type Cells,
  type CellValue,
  type Problem,
  type Sentences,
} from '../values';
import type { Tone } from './definition';
import { isBoxes, type Answers, type Input } from './inputs';
import { readOnlyTexts } from './brought';
import { isRequired, shownBlocks, type Evaluator, type PreparedForm } from './prepared';
import { isSame } from './same';
import { isBeginning, startText, type StartingContext } from './starting';

declare module '../values/problem' {
  interface Problems {
    required: object;
    ownWords: { readonly says: string };
    notDifferent: { readonly text: string; readonly label: string };
  }
}

export const REQUIRED_SENTENCES: Sentences<'required' | 'ownWords' | 'notDifferent'> = {
  required: () => 'Answer this question.',
  ownWords: ({ says }) => says,
  notDifferent: ({ text, label }) => `${quote(text)} is already in ${label}. Give another.`,
};

/** A form as it was filled in so far. */
export interface Entered {
  readonly answers: Answers;
  /** Inputs in which a starting value stands that nobody touched. */
  readonly untouched?: ReadonlySet<string>;
  /** Inputs whose answers are meant, although they were asked about. */
  readonly meant?: ReadonlySet<string>;
}

/** What a live message says now. */
export interface SaidMessage {
  readonly blockId: string;
  readonly tone: Tone;
  readonly text: string;
}

/** A form filled in so far: what would be stored, and what stands in the way. */
export interface Filling {
  /** Values by column id, of the answers that could be read. Blank ones are left out. */
  readonly cells: Cells;
  /** All that is known of the record: what stays of it as it is stored, answers, what is computed. */
  readonly whole: Cells;
  /** One verdict at most per input, in the order of the page. */
  readonly verdicts: readonly Verdict[];
  /** What is only noted of answers that are taken, by input id: the weightiest of each. */
  readonly notes: ReadonlyMap<string, Problem>;
  /** The blocks that are there now. */
  readonly shown: ReadonlySet<string>;
  /** The inputs that need an answer now. */
  readonly required: ReadonlySet<string>;
  /** What stands in inputs that nobody touched, or can touch, by input id. */
  readonly texts: Answers;
  /** What is suggested for inputs that are blank, by input id. */
  readonly suggested: Answers;
  /**
   * Columns whose values are on their way: they are looked up elsewhere, and what is known of them
   * is older than the answers. Whoever has all at hand leaves none.
   */
  readonly awaited: ReadonlySet<string>;
  /** What computed columns give, by column id. */
  readonly computed: Readonly<Record<string, CellValue>>;
  readonly messages: readonly SaidMessage[];
  /** The record as the judge lets it through: what is stored where there is no verdict. */
  readonly judged: Judged;
}

/** Conditions that wait for one another settle in as many rounds as they are deep. */
const MOST_ROUNDS = 20;

/** Judges an answer by its column and by its field's control and limits. */
export const judgeInput = <F>(
  { column, checks }: Input<F>,
  answer: string,
  context: ReadingContext,
): JudgedCell => judgeCell({ typed: answer }, column, { context, checks });

/**
 * Fills a form: reads every answer into its column's value, computes what is computed, finds what is
 * there and what is missing, and has the judge look at the whole record. The browser does so at
 * every key, the server at submit; a submit is accepted when there is no verdict.
 *
 * @param context `held` is the record that is corrected: what the form does not write stays of it
 * @param evaluator `null` where the form has no formulas, or what they read is not at hand
 */
export function fill<F>(
  form: PreparedForm<F>,
  entered: Entered,
  context: StartingContext,
  evaluator: Evaluator<F> | null,
): Filling {
  const work = (): Filling => filled(form, entered, context, evaluator);
  return evaluator ? evaluator.within(work) : work();
}

function filled<F>(
  form: PreparedForm<F>,
  entered: Entered,
  context: StartingContext,
  evaluator: Evaluator<F> | null,
): Filling {
  const readings = new Map<string, { text: string; cell: JudgedCell }>();
  const judgedAs = (input: Input<F>, text: string): JudgedCell => {
    const held = readings.get(input.id);
    if (held?.text === text) return held.cell;
    const cell = judgeInput(input, text, context);
    readings.set(input.id, { text, cell });
    return cell;
  };

  const { held = null } = context;
  /** What stands in the fields nobody touched, or can touch. */
  const standing = (known: Cells, there: ReadonlySet<string>): Answers =>
    readOnlyTexts(
      form,
      {
        starts: startTexts(form, entered, known, evaluator, context),
        held,
        isShown: ({ block }) => there.has(block.id),
        textOf: (input, all) => answerTo(input, entered, all),
        meantBy: (input, text) => {
          const listed = context.listed?.(input.column.id);
          const meant = listed?.meant(text.trim(), true) ?? [];
          return meant.length > 0 ? meant : (listed?.holding(judgedAs(input, text).value) ?? []);
        },
      },
      context,
    );
  const rest = beside(form, held);
  let shown = shownBlocks(form, {}, null);
  let texts = standing(rest, shown);
  let cells: Record<string, CellValue> = {};
  let computed: Record<string, CellValue> = {};
  for (let round = 0; round < MOST_ROUNDS; round += 1) {
    cells = {};
    for (const input of form.inputs) {
      if (!shown.has(input.block.id) || !isTyped(input.column)) continue;
      const { value, doubts } = judgedAs(input, answerTo(input, entered, texts));
      if (value !== null && !inTheWay(doubts, true)) cells[input.column.id] = value;
    }
    cells = withBoxes(form, shown, cells);
    if (!evaluator) break;
    computed = evaluator.computed({ ...rest, ...cells });
    const all = { ...rest, ...cells, ...computed };
    const nextShown = shownBlocks(form, all, evaluator);
    const nextTexts = standing(all, nextShown);
    const settled = hasSame(nextShown, shown) && isSame(nextTexts, texts);
    // What goes round in a circle ends with values that belong to what stands there.
    if (settled || round === MOST_ROUNDS - 1) break;
    shown = nextShown;
    texts = nextTexts;
  }

  const all = { ...rest, ...cells, ...computed };
  const awaited = evaluator ? awaitedColumns(form, entered, shown, all, evaluator) : NONE;
  const given: Record<string, JudgedCell> = {};
  for (const input of form.inputs) {
    const { column, block } = input;
    if (!isTyped(column) || awaited.has(column.id)) continue;
    // What is not there any more is blank.
    const { doubts } = shown.has(block.id)
      ? judgedAs(input, answerTo(input, entered, texts))
      : UNSHOWN;
    given[column.id] = { value: cells[column.id] ?? null, doubts };
  }
  const judged = judgeFilled(form, { given, shown, awaited, entered, evaluator, context });
  const told = byField(judged.verdicts);

  const required = new Set<string>();
  const verdicts: Verdict[] = [];
  const notes = new Map<string, Problem>();
  const answered = new Set(
    form.inputs.filter(({ column }) => column.id in cells).map(({ block }) => block.id),
  );
  const missing = new Set<string>();
  const refused = new Set<string>();
  const repeats: GivenByBlock = new Map();
  for (const input of form.inputs) {
    const { id, column, block } = input;
    if (!shown.has(block.id)) continue;
    const put = (doubt: Doubt): void => {
      verdicts.push({ fieldId: id, columnId: column.id, ...doubt });
    };
    const read = judgedAs(input, answerTo(input, entered, texts));
    if (!isTyped(column)) {
      for (const doubt of read.doubts) put(doubt);
      continue;
    }
    const needed = isRequired(input, all, evaluator, awaited);
    if (needed) required.add(id);
    if (awaited.has(column.id)) continue;
    const value = cells[column.id] ?? null;
    const isUnread = read.value === null && read.doubts.length > 0;
    const doubts = told.get(id) ?? NO_DOUBTS;
    const repeated = repeatedDoubt(input, read.value, repeats, context);
    const weighed = [
      ...(isUnread ? inOwnWords(doubts, block.says) : doubts),
      ...(repeated ? [repeated] : []),
    ];
    const obstacle = inTheWay(weighed, entered.meant?.has(id));
    if (obstacle) {
      put(obstacle);
      refused.add(column.id);
    } else if (needed && value === null && isMissing(input, answered, missing)) {
      const doubt: Doubt = { problem: { code: 'required' }, strictness: 'refuse' };
      for (const each of inOwnWords([doubt], block.says)) put(each);
    } else {
      const note = weighed.find(({ strictness }) => strictness === 'note');
      if (note) notes.set(id, note.problem);
    }
  }
  if (refused.size > 0) cells = without(cells, refused);
  if (awaited.size > 0) cells = without(cells, awaited);
  const blank = judged.verdicts.find(({ problem }) => isBlankProblem(problem));
  if (blank && verdicts.length === 0 && awaited.size === 0) verdicts.push(blank);
  const messages = evaluator ? saidMessages(form, shown, all, evaluator) : [];
  const suggested = suggestedTexts(form, entered, all, evaluator, context);
  return {
    cells,
    whole: all,
    verdicts,
    notes,
    shown,
    required,
    texts,
    suggested,
    awaited,
    computed,
    messages,
    judged,
  };
}

const NONE: ReadonlySet<string> = new Set();
const NO_DOUBTS: readonly Doubt[] = [];
const UNSHOWN: JudgedCell = { value: null, doubts: NO_DOUBTS };

/** What of a stored record stays as it is: columns that the form does not write, and none computes. */
function beside<F>({ inputs, columns }: PreparedForm<F>, held: Cells | null): Cells {
  if (!held) return {};
  const written = new Set(
    inputs.filter(({ column }) => isTyped(column)).map(({ column }) => column.id),
  );
  const kept = Object.entries(held).filter(
    ([id]) => !written.has(id) && columns.get(id)?.kind !== 'computed',
  );
  return Object.fromEntries(kept);
}

interface Filled<F> {
  readonly given: Readonly<Record<string, JudgedCell>>;
  readonly shown: ReadonlySet<string>;
  readonly awaited: ReadonlySet<string>;
  readonly entered: Entered;
  readonly evaluator: Evaluator<F> | null;
  readonly context: StartingContext;
}

/** Has the judge look at the record that a form makes, and tell what stands in the way at its fields. */
function judgeFilled<F>(
  form: PreparedForm<F>,
  { given, shown, awaited, entered, evaluator, context }: Filled<F>,
): Judged {
  const fields = new Map(
    form.inputs.flatMap(({ id, column, block }) =>
      shown.has(block.id) && isTyped(column) ? [[column.id, id]] : [],
    ),
  );
  const isMeant = ({ id }: Input<F>): boolean => entered.meant?.has(id) === true;
  const meant = new Set(form.inputs.filter(isMeant).map(({ column }) => column.id));
  const computing =
    context.computing ?? (evaluator && { ...computingBy(evaluator), atWriting: () => ({}) });
  return judgeChange(
    given,
    context.held ?? null,
    {
      columns: form.ruled,
      context: { ...context, ...(computing && { computing }) },
      meant,
      awaited,
      ...(context.filled && { filled: context.filled }),
    },
    { fieldOf: (columnId) => fields.get(columnId) },
  );
}

const computingBy = <F>(evaluator: Evaluator<F>): Pick<Computing, 'values' | 'reads'> => ({
  values: (cells) => evaluator.computed(cells),
  reads: (columnId) => evaluator.reads(columnId),
});

const isBlankProblem = ({ code }: Problem): boolean =>
  code === 'nothingTyped' || code === 'nothingLeft';

/** What is said at each field, the weightiest first; that there is nothing at all is said apart. */
function byField(verdicts: readonly Verdict[]): Map<string, Doubt[]> {
  const told = new Map<string, Doubt[]>();
  for (const { fieldId, columnId: _, ...doubt } of verdicts) {
    if (isBlankProblem(doubt.problem)) continue;
    const held = told.get(fieldId) ?? [];
    told.set(fieldId, held);
    held.push(doubt);
  }
  for (const doubts of told.values()) doubts.sort(weightiest);
  return told;
}

/** What is refused, said in a field's own words where it has some. */
const inOwnWords = (doubts: readonly Doubt[], says: string | undefined): readonly Doubt[] =>
  says === undefined
    ? doubts
    : doubts.map((doubt) =>
        doubt.strictness === 'refuse' ? { ...doubt, problem: { code: 'ownWords', says } } : doubt,
      );

/** What was given in repeated fields so far, folded, each with where it stands; by block. */
type GivenByBlock = Map<string, Map<string, string>>;

/** An answer that stands in another of the fields that are all to be different. */
function repeatedDoubt<F>(
  { block, column, label }: Input<F>,
  value: CellValue,
  given: GivenByBlock,
  { locale }: ReadingContext,
): Doubt | null {
  if (block.is !== 'group' || !block.different || value === null) return null;
  const text = showValue(value, column, locale);
  const inBlock = given.get(block.id) ?? new Map<string, string>();
  given.set(block.id, inBlock);
  const key = foldText(text);
  const first = inBlock.get(key);
  if (first === undefined) {
    inBlock.set(key, label);
    return null;
  }
  return { problem: { code: 'notDifferent', text, label: first }, strictness: 'refuse' };
}

/** Of boxes and of repeated fields one answer is enough, and it is asked for once. */
function isMissing<F>(
  { block }: Input<F>,
  answered: ReadonlySet<string>,
  told: Set<string>,
): boolean {
  if (block.is !== 'group' || block.as === 'statements') return true;
  if (answered.has(block.id) || told.has(block.id)) return false;
  told.add(block.id);
  return true;
}

/** What stands in an input: what was typed, or what stands there by itself. */
export const textIn = <F>(
  { id, block }: Input<F>,
  { answers }: Pick<Entered, 'answers'>,
  { texts }: Pick<Filling, 'texts'>,
): string => texts[id] ?? (block.readOnly ? '' : (answers[id] ?? ''));

/** The text that counts in an input now; blank where what stands there is no answer. */
function answerTo<F>(input: Input<F>, entered: Entered, texts: Answers): string {
  const { start } = input.block;
  const text = textIn(input, entered, { texts });
  return start && isBeginning(start, text) ? '' : text;
}

/** Whether a starting value stands in an input that nobody typed over. */
function standsAtStart<F>({ id, block }: Input<F>, { untouched }: Entered): boolean {
  if (!block.start) return false;
  return block.readOnly === true || (!block.start.suggestion && untouched?.has(id) === true);
}

/** What starting values come to, where nobody typed over them. */
function startTexts<F>(
  form: PreparedForm<F>,
  entered: Entered,
  cells: Cells,
  evaluator: Evaluator<F> | null,
  context: StartingContext,
): Record<string, string> {
  const texts: Record<string, string> = {};
  for (const input of form.inputs) {
    const { start } = input.block;
    if (!start || !standsAtStart(input, entered)) continue;
    texts[input.id] = startText(start, input.column, context, valueOver(evaluator, cells));
  }
  return texts;
}

/** What is suggested where nothing is typed. */
function suggestedTexts<F>(
  form: PreparedForm<F>,
  { answers }: Entered,
  cells: Cells,
  evaluator: Evaluator<F> | null,
  context: StartingContext,
): Record<string, string> {
  const texts: Record<string, string> = {};
  for (const { id, block, column } of form.inputs) {
    const { start, readOnly } = block;
    if (!start?.suggestion || readOnly || (answers[id] ?? '') !== '') continue;
    const text = startText(start, column, context, valueOver(evaluator, cells));
    if (text !== '') texts[id] = text;
  }
  return texts;
}

const valueOver =
  <F>(evaluator: Evaluator<F> | null, cells: Cells) =>
  (formula: F): CellValue =>
    evaluator?.value(formula, cells) ?? null;

/** Columns whose starting value, or formula, waits for what is looked up, or reads one that does. */
function awaitedColumns<F>(
  form: PreparedForm<F>,
  entered: Entered,
  shown: ReadonlySet<string>,
  cells: Cells,
  evaluator: Evaluator<F>,
): ReadonlySet<string> {
  const waits = evaluator.waits?.bind(evaluator);
  if (!waits) return NONE;
  const starts = form.inputs.flatMap((input) => {
    const { start, id: blockId } = input.block;
    const stands = start?.kind === 'formula' && standsAtStart(input, entered);
    return stands && shown.has(blockId) ? [{ id: input.column.id, formula: start.formula }] : [];
  });
  const awaited = new Set<string>();
  for (let size = -1; size < awaited.size;) {
    size = awaited.size;
    for (const { id, formula } of starts) if (waits(formula, cells, awaited)) awaited.add(id);
  }
  for (const id of evaluator.waitingColumns?.(cells, awaited) ?? []) awaited.add(id);
  return awaited;
}

/** Where one box of several is ticked, the others are no; where none is, all are blank. */
function withBoxes<F>(
  { definition, columns }: PreparedForm<F>,
  shown: ReadonlySet<string>,
  cells: Record<string, CellValue>,
): Record<string, CellValue> {
  const blank = new Set<string>();
  const all = { ...cells };
  for (const block of definition.blocks) {
    if (!isBoxes(block) || !shown.has(block.id)) continue;
    const ids = block.members.map(({ columnId }) => columnId).filter((id) => columns.has(id));
    if (ids.some((id) => cells[id] === true)) for (const id of ids) all[id] ??= false;
    else for (const id of ids) blank.add(id);
  }
  return blank.size > 0 ? without(all, blank) : all;
}

function without(
  cells: Readonly<Record<string, CellValue>>,
  ids: ReadonlySet<string>,
): Record<string, CellValue> {
  return Object.fromEntries(Object.entries(cells).filter(([id]) => !ids.has(id)));
}

function saidMessages<F>(
  { definition }: PreparedForm<F>,
  shown: ReadonlySet<string>,
  cells: Cells,
  evaluator: Evaluator<F>,
): SaidMessage[] {
  return definition.blocks.flatMap((block) => {
    if (block.is !== 'message' || !shown.has(block.id)) return [];
    const [value = null, ...others] = evaluator.outcomes(block.formula, cells);
    if (!others.every((other) => isSame(other, value))) return [];
    if (value === null || value === false || value === '' || isErrorValue(value)) return [];
    return [{ blockId: block.id, tone: block.tone, text: String(value) }];
  });
}

const hasSame = (a: ReadonlySet<string>, b: ReadonlySet<string>): boolean =>
  a.size === b.size && [...a].every((each) => b.has(each));
