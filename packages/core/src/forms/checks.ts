import type { FormulaProblem } from '../formula';
import {
  kindOf,
  misfittingSettings,
  separatorSign,
  type Column,
  type ColumnSettings,
  type KindId,
  type Rule,
} from '../kinds';
import { nothingPasses } from '../rules';
import { localeFacts, type Problem, type Strictness } from '../values';
import { circlesIn } from './circles';
import { MOST_STEPS, USUAL_STEPS, controlOf } from './controls';
import { isTyped } from '../records';
import {
  columnIdsOf,
  isEntry,
  type Block,
  type ColumnsById,
  type FormDefinition,
  type StartingValue,
  type FieldBlock,
  type GroupBlock,
} from './definition';
import { judgeInput } from './filling';
import { formulaProblem, type FormulaGround } from './formulaProblem';
import { formulasOf, type FormulaPlace } from './formulas';
import { inputsOf } from './inputs';

/** Something about a form to see to before it is put to use: `refuse` keeps it from use. */
export type FormCheck = { readonly strictness: Strictness } & (
  | { readonly code: 'unnamed' }
  | { readonly code: 'nothingToFill' }
  | { readonly code: 'tooManyFields'; readonly count: number }
  | { readonly code: 'columnGone'; readonly blockId: string }
  | { readonly code: 'columnTwice'; readonly blockId: string; readonly columnId: string }
  | { readonly code: 'headingMissing'; readonly columnId: string }
  | { readonly code: 'headingTwice'; readonly columnId: string }
  | {
      readonly code: 'formulaUnread';
      readonly blockId: string;
      readonly use: FormulaPlace<string>['use'];
      readonly problem: FormulaProblem;
    }
  | {
      readonly code: 'computedUnread';
      readonly columnId: string;
      readonly problem: FormulaProblem;
    }
  | { readonly code: 'dependsOnItself'; readonly blockId: string }
  | {
      readonly code: 'computedFromItself';
      readonly columnId: string;
      /** The computed columns along the way, from this one on. */
      readonly path: readonly string[];
    }
  | { readonly code: 'startUnread'; readonly blockId: string; readonly problem: Problem }
  | {
      readonly code: 'startMisfits';
      readonly blockId: string;
      readonly start: StartingValue['kind'];
      readonly kind: KindId;
    }
  | { readonly code: 'onlySuggested'; readonly blockId: string }
  | {
      readonly code: 'settingMisfits';
      readonly columnId: string;
      readonly setting: keyof ColumnSettings;
      readonly kind: KindId;
    }
  | { readonly code: 'nothingPasses'; readonly blockId: string }
  | { readonly code: 'openScale'; readonly blockId: string }
  | { readonly code: 'wordUnset'; readonly blockId: string; readonly name: string }
  | { readonly code: 'listUnread'; readonly blockId: string; readonly why: string }
  | { readonly code: 'emptyList'; readonly blockId: string; readonly columnId: string }
  | {
      readonly code: 'choiceHoldsSeparator';
      readonly blockId: string;
      readonly columnId: string;
      readonly choice: string;
    }
  | { readonly code: 'notWritten'; readonly columnId: string }
  | { readonly code: 'keyNotOnForm'; readonly columnId: string }
  | { readonly code: 'pictureWithoutWords'; readonly blockId: string }
);

/** What the checks know of the sheet around the form. */
export interface CheckGround extends Omit<FormulaGround, 'headings'> {
  /** What the form is called. */
  readonly name: string;
  /** The sheet's columns, and those the form brings. */
  readonly columns: readonly Column<string>[];
  /** Columns the form brings, or changes. */
  readonly planned: readonly Column<string>[];
  /** The names under which secret words are kept; absent where that is not known yet. */
  readonly keptWords?: ReadonlySet<string> | undefined;
  /** Why lists that feed columns can't be read, by column id. */
  readonly unreadLists?: ReadonlyMap<string, string>;
  /** Columns that other forms of the sheet write. */
  readonly writtenElsewhere: ReadonlySet<string>;
}

/** The most fields one form has. */
export const MOST_FIELDS = 1000;

/** Looks a form through before it is put to use. Those that keep it from use stand first. */
export function checkForm(definition: FormDefinition, ground: CheckGround): FormCheck[] {
  const columns: ColumnsById = new Map(ground.columns.map((column) => [column.id, column]));
  const checks = [
    ...wholeChecks(definition, columns, ground),
    ...definition.blocks.flatMap((block) => blockChecks(block, columns)),
    ...listChecks(definition, ground),
    ...wordChecks(definition, columns, ground),
    ...startChecks(definition, columns, ground),
    ...formulaChecks(definition, columns, ground),
    ...columnChecks(definition, ground),
  ];
  const order: Readonly<Record<Strictness, number>> = { refuse: 0, ask: 1, note: 2 };
  return checks.sort((a, b) => order[a.strictness] - order[b.strictness]);
}

function wholeChecks(
  definition: FormDefinition,
  columns: ColumnsById,
  { name }: CheckGround,
): FormCheck[] {
  const checks: FormCheck[] = [];
  const inputs = inputsOf(definition, columns);
  if (name.trim() === '') checks.push({ strictness: 'refuse', code: 'unnamed' });
  if (!inputs.some(({ column }) => isTyped(column))) {
    checks.push({ strictness: 'refuse', code: 'nothingToFill' });
  }
  if (inputs.length > MOST_FIELDS) {
    checks.push({ strictness: 'refuse', code: 'tooManyFields', count: inputs.length });
  }
  const placed = new Set<string>();
  for (const block of definition.blocks) {
    for (const columnId of columnIdsOf(block)) {
      if (placed.has(columnId)) {
        checks.push({ strictness: 'refuse', code: 'columnTwice', blockId: block.id, columnId });
      }
      placed.add(columnId);
      if (!columns.has(columnId)) {
        checks.push({ strictness: 'refuse', code: 'columnGone', blockId: block.id });
      }
    }
  }
  return checks;
}

function blockChecks(block: Block, columns: ColumnsById): FormCheck[] {
  const blockId = block.id;
  if (block.is === 'picture' && block.alt.trim() === '') {
    return [{ strictness: 'ask', code: 'pictureWithoutWords', blockId }];
  }
  if (!isEntry(block)) return [];
  const checks: FormCheck[] = [];
  const [column] = columnIdsOf(block).flatMap((id) => columns.get(id) ?? []);
  if (!column) return [];
  if (!canPass(block, column))
    checks.push({ strictness: 'refuse', code: 'nothingPasses', blockId });
  if (isOpenScale(block, column)) checks.push({ strictness: 'refuse', code: 'openScale', blockId });
  if (kindOf(column).typing !== 'choice') return checks;
  const { choices = [], list, own, separator } = column.settings;
  // What is fed may have nothing to offer yet.
  if (choices.length === 0 && !list && own === undefined) {
    checks.push({ strictness: 'refuse', code: 'emptyList', blockId, columnId: column.id });
  }
  const sign = separatorSign(separator);
  const choice = choices.find((each) => each.includes(sign));
  if (column.kind === 'severalChoices' && choice !== undefined) {
    const code = 'choiceHoldsSeparator' as const;
    checks.push({ strictness: 'note', code, blockId, columnId: column.id, choice });
  }
  return checks;
}

/** Fields whose choices come from what is not there, or is an error. */
function listChecks({ blocks }: FormDefinition, { unreadLists }: CheckGround): FormCheck[] {
  return blocks.flatMap((block) => {
    const why = columnIdsOf(block).flatMap((id) => unreadLists?.get(id) ?? [])[0];
    if (why === undefined) return [];
    return [{ strictness: 'refuse', code: 'listUnread', blockId: block.id, why }];
  });
}

/** Fields that ask for a secret word that nobody has set: nothing would be let through. */
function wordChecks(
  definition: FormDefinition,
  columns: ColumnsById,
  { keptWords }: CheckGround,
): FormCheck[] {
  if (!keptWords) return [];
  return inputsOf(definition, columns).flatMap(({ ruled, block }): FormCheck[] =>
    (ruled.settings.rules ?? []).flatMap(({ must }) =>
      must.is === 'secretWord' && !keptWords.has(must.name)
        ? [{ strictness: 'refuse', code: 'wordUnset', blockId: block.id, name: must.name }]
        : [],
    ),
  );
}

/** Whether a scale lacks its first or its last number. */
function isOpenScale(block: FieldBlock | GroupBlock, column: Column): boolean {
  const { from, to } = block.details ?? {};
  return controlOf(block, column).id === 'scale' && (from === undefined || to === undefined);
}

/** Whether any value can be within the limits and the steps of a field. */
function canPass(block: FieldBlock | GroupBlock, column: Column): boolean {
  const { from = -Infinity, to = Infinity } = block.limits ?? {};
  if (from > to || hasClash(block, column)) return false;
  const { id } = controlOf(block, column);
  if (id !== 'steps' && id !== 'scale') return true;
  const usual = id === 'steps' ? USUAL_STEPS : null;
  const { from: first = usual?.from, to: last = usual?.to } = block.details ?? {};
  if (first === undefined || last === undefined) return true;
  return first <= last && last - first < MOST_STEPS && Math.max(first, from) <= Math.min(last, to);
}

/** Whether rules of the field and its column leave nothing to pass. */
function hasClash({ rules = [], limits = {} }: FieldBlock | GroupBlock, column: Column): boolean {
  if (rules.length === 0) return false;
  const is = kindOf(column).holds === 'string' ? 'length' : 'between';
  const bounds: Rule[] = Object.keys(limits).length > 0 ? [{ must: { is, ...limits } }] : [];
  const all = [...(column.settings.rules ?? []), ...rules, ...bounds];
  return nothingPasses(all, column, { locale: ANY_LOCALE, now: ANY_DAY });
}

/** Starting values that are none of their column's, and those that are only suggested. */
function startChecks(
  definition: FormDefinition,
  columns: ColumnsById,
  { locale }: CheckGround,
): FormCheck[] {
  const checked = new Set<string>();
  return inputsOf(definition, columns).flatMap((input): FormCheck[] => {
    const { block, column } = input;
    const { start } = block;
    if (!start || !isTyped(column) || checked.has(block.id)) return [];
    checked.add(block.id);
    const blockId = block.id;
    const { kind } = column;
    if (!STARTS[start.kind](column)) {
      return [{ strictness: 'refuse', code: 'startMisfits', blockId, start: start.kind, kind }];
    }
    const checks: FormCheck[] = [];
    if (start.kind === 'text') {
      const { doubts } = judgeInput(input, start.text, { locale, now: ANY_DAY });
      for (const { problem } of doubts) {
        checks.push({ strictness: 'refuse', code: 'startUnread', blockId, problem });
      }
    }
    if (start.suggestion && !block.readOnly) {
      checks.push({ strictness: 'note', code: 'onlySuggested', blockId });
    }
    return checks;
  });
}

/** A day for texts that say none of their own: whether they can be read is the same on all. */
const ANY_DAY = 46_000;
const ANY_LOCALE = localeFacts('en');

/** The columns each starting value can stand in. */
const STARTS: Readonly<Record<StartingValue['kind'], (column: Column) => boolean>> = {
  text: () => true,
  formula: () => true,
  beginning: ({ kind }) => kind === 'text',
  next: ({ kind }) => kind === 'text' || kind === 'wholeNumber',
  today: (column) => ['date', 'moment'].includes(kindOf(column).iso ?? ''),
  now: (column) => ['time', 'moment'].includes(kindOf(column).iso ?? ''),
};

function formulaChecks(
  definition: FormDefinition,
  columns: ColumnsById,
  { locale, names, sheets, planned }: CheckGround,
): FormCheck[] {
  const byHeading = new Map([...columns.values()].map((each) => [each.heading.trim(), each.id]));
  const around = { headings: new Set(byHeading.keys()), names, sheets, locale };
  const checks: FormCheck[] = formulasOf(definition).flatMap(({ block, use, formula }) => {
    const problem = formulaProblem(formula, around);
    const blockId = block.id;
    return problem ? [{ strictness: 'refuse', code: 'formulaUnread', blockId, use, problem }] : [];
  });
  const formulas = new Map(
    planned.flatMap(({ id, settings: { formula } }) =>
      formula === undefined ? [] : [[id, formula] as const],
    ),
  );
  for (const [columnId, formula] of formulas) {
    const problem = formulaProblem(formula, around);
    if (problem) checks.push({ strictness: 'refuse', code: 'computedUnread', columnId, problem });
  }
  const { blocks, columns: computed } = circlesIn(definition, byHeading, formulas, locale);
  for (const { id } of blocks) {
    checks.push({ strictness: 'refuse', code: 'dependsOnItself', blockId: id });
  }
  for (const { columnId, path } of computed) {
    checks.push({ strictness: 'refuse', code: 'computedFromItself', columnId, path });
  }
  return checks;
}

function columnChecks(definition: FormDefinition, ground: CheckGround): FormCheck[] {
  const placed = new Set(definition.blocks.flatMap(columnIdsOf));
  const headings = new Set<string>();
  return ground.columns.flatMap((column): FormCheck[] => {
    const columnId = column.id;
    const heading = column.heading.trim();
    const isTwice = headings.has(heading);
    headings.add(heading);
    if (heading === '') return [{ strictness: 'refuse', code: 'headingMissing', columnId }];
    if (isTwice) return [{ strictness: 'refuse', code: 'headingTwice', columnId }];
    if (placed.has(columnId)) {
      return misfittingSettings(column).map((setting) => {
        return { strictness: 'ask', code: 'settingMisfits', columnId, setting, kind: column.kind };
      });
    }
    if (placed.has(columnId) || !isTyped(column)) return [];
    if (column.settings.key) return [{ strictness: 'ask', code: 'keyNotOnForm', columnId }];
    if (ground.writtenElsewhere.has(columnId)) return [];
    return [{ strictness: 'note', code: 'notWritten', columnId }];
  });
}
