import { isCurrency } from '../format';
import { LIST_ORDERS, type ListSettings } from './list';
import { isRule, MOST_RULES } from './rule';
import { KIND_IDS, type Column, type ColumnSettings, type KindId } from './kind';

/** The longest name people give: of a column, a choice, a form. */
export const LONGEST_NAME = 200;
const MOST_CHOICES = 50_000;

/** What a setting may be. */
interface Bound {
  readonly says: string;
  readonly holds: (value: unknown) => boolean;
}

const countTo = (most: number): Bound => ({
  says: `a whole number from 0 to ${most}`,
  holds: (value) =>
    typeof value === 'number' && Number.isInteger(value) && value >= 0 && value <= most,
});
const textTo = (most: number): Bound => ({
  says: `a text of at most ${most} characters`,
  holds: (value) => typeof value === 'string' && value.length <= most,
});
const listOf = (most: number, says: string, holds: Bound['holds']): Bound => ({
  says: `a list of at most ${most} ${says}`,
  holds: (value) => Array.isArray(value) && value.length <= most && value.every(holds),
});
const yesOrNo: Bound = { says: 'yes or no', holds: (value) => typeof value === 'boolean' };

const isTrue = (value: unknown): boolean => value === true;
const LONGEST_SOURCE = 2000;
const MOST_PARTS = 20;
const formula = textTo(LONGEST_SOURCE).holds;

/** Each of the names that a list may have with what it holds. */
const LIST_PARTS: Readonly<Record<keyof ListSettings, Bound['holds']>> = {
  source: (value) => formula(value) && value !== '',
  label: formula,
  second: formula,
  where: formula,
  narrowed: listOf(MOST_PARTS, '', isTied('by')).holds,
  fills: listOf(MOST_PARTS, '', isTied('from')).holds,
  order: (value) => LIST_ORDERS.some((each) => each === value),
  first: listOf(1000, '', textTo(LONGEST_NAME).holds).holds,
  exact: isTrue,
  recent: isTrue,
  adds: isTrue,
  strictness: (value) => value === 'ask' || value === 'note',
};

const isPlainObject = (value: unknown): value is Readonly<Record<string, unknown>> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Something of the source's row that is tied to a column. */
function isTied(name: string): Bound['holds'] {
  return (value) =>
    isPlainObject(value) &&
    Object.keys(value).length === 2 &&
    formula(value[name]) &&
    textTo(LONGEST_NAME).holds(value['columnId']);
}

function isList(value: unknown): boolean {
  return (
    isPlainObject(value) &&
    'source' in value &&
    Object.entries(value).every(
      ([name, part]) =>
        Object.hasOwn(LIST_PARTS, name) && LIST_PARTS[name as keyof ListSettings](part),
    )
  );
}

/** What people may set of a column. A formula has a way of its own. */
const BOUNDS: Readonly<Record<Exclude<keyof ColumnSettings, 'formula'>, Bound>> = {
  choices: listOf(
    MOST_CHOICES,
    `texts of at most ${LONGEST_NAME} characters`,
    textTo(LONGEST_NAME).holds,
  ),
  list: { says: 'a list with a source', holds: isList },
  own: textTo(40),
  separator: {
    says: 'a text of 1 to 10 characters',
    holds: (value) => textTo(10).holds(value) && value !== '',
  },
  rules: listOf(MOST_RULES, 'rules', isRule),
  key: yesOrNo,
  unit: textTo(40),
  pattern: textTo(LONGEST_NAME),
  decimals: countTo(15),
  grouping: yesOrNo,
  percent: yesOrNo,
  currency: {
    says: 'three letters of ISO 4217 such as EUR',
    holds: (value) => typeof value === 'string' && isCurrency(value),
  },
  digitGroups: listOf(
    20,
    'whole numbers from 1 to 15',
    (value) => countTo(15).holds(value) && value !== 0,
  ),
  datePattern: textTo(LONGEST_NAME),
  follows: yesOrNo,
  country: {
    says: 'two letters of ISO 3166-1 such as GB',
    holds: (value) => typeof value === 'string' && /^[A-Z]{2}$/.test(value),
  },
  shownAs: {
    says: 'a kind of column',
    holds: (value) => (KIND_IDS as readonly unknown[]).includes(value),
  },
};

/** What is not as it may be among a column's settings. */
export interface SettingProblem {
  readonly name: string;
  /** What it may be; `null` where there is no such setting. */
  readonly allowed: string | null;
}

/** Looks settings through, whoever wrote them. */
export function settingProblem(settings: object): SettingProblem | null {
  for (const [name, value] of Object.entries(settings)) {
    if (!Object.hasOwn(BOUNDS, name)) return { name, allowed: null };
    const { says, holds } = BOUNDS[name as keyof typeof BOUNDS];
    if (!holds(value)) return { name, allowed: says };
  }
  return null;
}

type Setting = keyof ColumnSettings;

const FIGURES: readonly Setting[] = ['decimals', 'grouping', 'percent', 'currency', 'digitGroups'];
const MEASURED: readonly Setting[] = [...FIGURES, 'unit', 'key'];
const DATED: readonly Setting[] = ['datePattern', 'key'];

/** What can be said of each kind of column. */
const TAKEN: Readonly<Record<KindId, readonly Setting[]>> = {
  text: ['key', 'digitGroups'],
  wholeNumber: MEASURED,
  number: MEASURED,
  money: MEASURED,
  date: DATED,
  time: DATED,
  moment: DATED,
  yesNo: ['key'],
  oneChoice: ['choices', 'list', 'own', 'key', 'shownAs'],
  severalChoices: ['choices', 'list', 'own', 'separator', 'shownAs'],
  email: ['key'],
  phone: ['country', 'key'],
  webAddress: ['key'],
  file: [],
  computed: [...MEASURED, ...DATED, 'formula', 'follows', 'shownAs'],
  runningNumber: ['pattern', 'key'],
  writtenAt: DATED,
  writtenBy: ['key'],
  door: [],
};

/** Settings of a column that say nothing of its kind. */
export const misfittingSettings = ({ kind, settings }: Column): Setting[] =>
  (Object.keys(settings) as Setting[]).filter(
    (name) => settings[name] !== undefined && name !== 'rules' && !TAKEN[kind].includes(name),
  );
