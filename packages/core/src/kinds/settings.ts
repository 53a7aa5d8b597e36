import { isCurrency } from '../format';
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

/** What people may set of a column. A formula has a way of its own. */
const BOUNDS: Readonly<Record<Exclude<keyof ColumnSettings, 'formula'>, Bound>> = {
  choices: listOf(
    MOST_CHOICES,
    `texts of at most ${LONGEST_NAME} characters`,
    textTo(LONGEST_NAME).holds,
  ),
  own: textTo(40),
  separator: {
    says: 'a text of 1 to 10 characters',
    holds: (value) => textTo(10).holds(value) && value !== '',
  },
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
  oneChoice: ['choices', 'own', 'key'],
  severalChoices: ['choices', 'own', 'separator'],
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
    (name) => settings[name] !== undefined && !TAKEN[kind].includes(name),
  );
