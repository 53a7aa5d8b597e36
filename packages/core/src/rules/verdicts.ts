import {
  asShown,
  showValue,
  typedValue,
  type Column,
  type ReadingContext,
  type Rule,
} from '../kinds';
import {
  isErrorValue,
  quote,
  type Cells,
  type CellValue,
  type Problem,
  type Sentences,
  type Strictness,
} from '../values';
import { brokenRules, columnsRead } from './check';
import { sayMust } from './say';

declare module '../values/problem' {
  interface Problems {
    /**
     * `must` follows ‘must’; a message of its own stands instead of all of it. Told beside another
     * column than the one whose value it is, it says which that is.
     */
    breaksRule: {
      readonly text: string;
      readonly must: string;
      readonly message: string | null;
      readonly of?: string;
    };
  }
}

export const RULE_SENTENCES: Sentences<'breaksRule'> = {
  breaksRule: ({ text, must, message, of }) =>
    message?.replaceAll('{value}', text) ??
    `${of === undefined ? '' : `${of} `}${quote(text)} must ${must}.`,
};

/** A rule that a value breaks, as it is told. */
export interface BrokenRule {
  readonly problem: Problem;
  readonly strictness: Strictness;
}

interface RuleScope {
  readonly columns: ReadonlyMap<string, Column>;
  readonly context: ReadingContext;
  /** The record the value is in. */
  readonly cells: Cells;
}

/**
 * The rules of a column that a value of a record breaks, the weightiest first. What the record held
 * before breaks none, unless something that its rules read is another now.
 */
export function ruleDoubts(column: Column, value: CellValue, scope: RuleScope): BrokenRule[] {
  const { columns, context, cells } = scope;
  const { held, locale, now } = context;
  const isHeld = held?.[column.id] !== undefined && held[column.id] === value;
  const isSame = (id: string): boolean => (held?.[id] ?? null) === (cells[id] ?? null);
  // A word that was right when it was typed is not asked for again.
  const admits = isHeld ? undefined : context.admits;
  const broken = brokenRules(value, column, { locale, now, cells, columns, admits });
  const told = isHeld
    ? broken.filter((rule) => rule.always ?? !columnsRead(rule).every(isSame))
    : broken;
  return told.map((rule) => doubtOf(rule, column, value, columns, context)).sort(weightiest);
}

/** A rule may name a thousand values: what is told of it stays a sentence. */
const LONGEST = 300;
const shortened = (text: string): string =>
  text.length > LONGEST ? `${text.slice(0, LONGEST - 1)}…` : text;

const WEIGHT: Readonly<Record<Strictness, number>> = { refuse: 0, ask: 1, note: 2 };
/** For sorting: what refuses before what asks, and that before what is only noted. */
export const weightiest = (
  a: Pick<BrokenRule, 'strictness'>,
  b: Pick<BrokenRule, 'strictness'>,
): number => WEIGHT[a.strictness] - WEIGHT[b.strictness];

/** A value as it is told of: a number as it is typed, ‘15’, however many decimals are shown. */
const shownIn = (value: CellValue, column: Column, locale: ReadingContext['locale']): string =>
  column.kind === 'number' && !isErrorValue(value)
    ? typedValue(value, column, locale)
    : showValue(value, column, locale);

const NOT_THE_WORD = 'That is not the secret word. Check it, or ask who gave it to you.';

function doubtOf(
  { message, strictness, ...rule }: Rule,
  column: Column,
  value: CellValue,
  columns: ReadonlyMap<string, Column>,
  { locale }: ReadingContext,
): BrokenRule {
  const headingOf = (id: string): string => columns.get(id)?.heading ?? '';
  // The name of a word is for who writes rules, and what was typed for it is not shown.
  const isSecret = rule.must.is === 'secretWord';
  const must = isSecret
    ? 'match the secret word'
    : shortened(sayMust(rule, { column: asShown(column), columns, locale, headingOf }));
  const problem = {
    code: 'breaksRule',
    text: isSecret ? '' : shownIn(value, column, locale),
    must,
    message: message ?? (isSecret ? NOT_THE_WORD : null),
  } as const;
  return { problem, strictness: strictness ?? 'refuse' };
}

/** A column with rules, and the columns whose change may break them: its own among them. */
export interface RuledColumn {
  readonly column: Column;
  readonly readBy: readonly string[];
  /** The computed ones among these columns: what they come of may break the rules too. */
  readonly computed: readonly string[];
  /** Whether any change of a record is held against one of them. */
  readonly always: boolean;
}

const ruled = new WeakMap<ReadonlyMap<string, Column>, readonly RuledColumn[]>();

/** The columns of a sheet that have rules, found once. */
export function ruledColumns(columns: ReadonlyMap<string, Column>): readonly RuledColumn[] {
  let found = ruled.get(columns);
  if (!found) {
    found = [...columns.values()].flatMap((column): RuledColumn[] => {
      const { rules = [] } = column.settings;
      if (rules.length === 0) return [];
      const readBy = [...new Set([column.id, ...rules.flatMap(columnsRead)])];
      const computed = readBy.filter((id) => columns.get(id)?.kind === 'computed');
      return [{ column, readBy, computed, always: rules.some((rule) => rule.always) }];
    });
    ruled.set(columns, found);
  }
  return found;
}
