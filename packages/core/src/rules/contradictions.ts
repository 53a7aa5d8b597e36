import {
  foldText,
  isGroup,
  kindOf,
  standsAlone,
  type Column,
  type Condition,
  type Rule,
  type RuleTest,
} from '../kinds';
import { sameNumber } from '../values';
import { brokenRules, type RuleGround } from './check';
import { examplesOf } from './examples';
import { graphemeCount, graphemesOf } from './graphemes';
import { readPicture } from './picture';

/** Rules that no value passes together, or one that none passes at all. */
export interface Contradiction {
  /** Their places among the rules. One alone goes against the kind, or the choices. */
  readonly rules: readonly number[];
  /** Of two, a value that passes the first alone, and one that passes the second alone. */
  readonly shown: readonly [string | null, string | null];
}

/** The ends of what passes, each included. */
interface Ends {
  readonly from: number;
  readonly to: number;
}

const OPEN: Ends = { from: -Infinity, to: Infinity };
const meeting = (a: Ends, b: Ends): Ends => ({
  from: Math.max(a.from, b.from),
  to: Math.min(a.to, b.to),
});
const isNone = ({ from, to }: Ends): boolean => from > to && !sameNumber(from, to);

/** The most values of a span that are tried one by one. */
const MOST_TRIED = 500;

/** A rule that refuses values, at all times, each by itself. */
const isStrict = ({ strictness, when, must }: Rule): boolean =>
  strictness === undefined && !when && !standsAlone(must);

/** Whether rules that refuse leave no value to pass: where one might, they do not. */
export const nothingPasses = (
  rules: readonly Rule[],
  column: Column,
  ground: RuleGround,
): boolean => isImpossible(rules.filter(isStrict), column, ground);

/**
 * Rules that refuse and leave no value to pass. Only what is certain is told: where nothing was
 * found that passes, but something might, nothing is.
 *
 * @param of the place of the one rule whose clashes are asked for; without it, all are
 */
export function contradictionsIn(
  rules: readonly Rule[],
  column: Column,
  ground: RuleGround,
  of?: number,
): Contradiction[] {
  const strict = rules.flatMap((rule, at) => (isStrict(rule) ? [{ rule, at }] : []));
  const alone = strict.filter(({ rule }) => isImpossible([rule], column, ground));
  const found = alone
    .filter(({ at }) => of === undefined || at === of)
    .map(({ at }): Contradiction => ({ rules: [at], shown: [null, null] }));
  const others = strict.filter((each) => !alone.includes(each));
  others.forEach((one, n) => {
    for (const other of others.slice(n + 1)) {
      if (of !== undefined && one.at !== of && other.at !== of) continue;
      if (!isImpossible([one.rule, other.rule], column, ground)) continue;
      const shown = [
        passesOnly(one.rule, other.rule, column, ground),
        passesOnly(other.rule, one.rule, column, ground),
      ] as const;
      found.push({ rules: [one.at, other.at], shown });
    }
  });
  return found;
}

/** A made-up value that passes one rule and breaks another. */
function passesOnly(one: Rule, other: Rule, column: Column, ground: RuleGround): string | null {
  const broken = new Set(examplesOf(other, column, ground).failing);
  const ruled = { ...column, settings: { ...column.settings, rules: [other] } };
  return (
    examplesOf(one, column, ground).passing.find((typed) => {
      const reading = kindOf(column).read(typed, column, ground);
      return (
        broken.has(typed) || (reading.ok && brokenRules(reading.value, ruled, ground).length > 0)
      );
    }) ?? null
  );
}

function isImpossible(rules: readonly Rule[], column: Column, ground: RuleGround): boolean {
  const tests = rules.flatMap(({ must }) => testsOf(must));
  const ruled = { ...column, settings: { ...column.settings, rules } };
  const passesAll = (value: string | number | boolean): boolean =>
    brokenRules(value, ruled, ground).length === 0;
  const known = knownValues(tests, column);
  if (known) return !known.some(passesAll);
  const { holds } = kindOf(column);
  if (holds === 'number') {
    const span = tests.reduce((ends, test) => meeting(ends, spanOf(test, ground.now)), OPEN);
    if (isNone(span)) return true;
    const tried = stepsIn(span, tests, column);
    if (tried && !tried.some(passesAll)) return true;
    // Whatever is shown of a number, a date or a time has figures.
    return tests.some((test) => test.is === 'madeOf' && !test.of.includes('figures'));
  }
  const length = tests.reduce((ends, test) => meeting(ends, lengthOf(test)), OPEN);
  return isNone(length) || clash(tests);
}

/** The tests that must each hold, of a condition that is no choice among several. */
function testsOf(condition: Condition): RuleTest[] {
  if (isGroup(condition)) return condition.is === 'all' ? condition.of.flatMap(testsOf) : [];
  return condition.not ? [] : [condition];
}

/** All the values there can be, where they are few. */
function knownValues(
  tests: readonly RuleTest[],
  column: Column,
): readonly (string | boolean)[] | null {
  const { choices = [], list, own } = column.settings;
  if (column.kind === 'yesNo') return [true, false];
  if (column.kind === 'oneChoice' && choices.length > 0 && !list && own === undefined) {
    return choices;
  }
  if (kindOf(column).holds !== 'string') return null;
  const listed = tests.find((test) => test.is === 'oneOf');
  return listed?.is === 'oneOf' ? listed.values.flatMap(alike) : null;
}

/** A listed value as it may be typed: letter case and accents do not count. */
const alike = (value: string): string[] =>
  [value.trim(), foldText(value)].flatMap((each) => [each, each.toLowerCase(), each.toUpperCase()]);

function spanOf(test: RuleTest, now: number): Ends {
  const today = Math.floor(now);
  switch (test.is) {
    case 'between':
      return { from: test.from ?? -Infinity, to: test.to ?? Infinity };
    case 'past':
      // A moment of yesterday is past up to midnight.
      return { from: -Infinity, to: today };
    case 'future':
      return { from: today + 1, to: Infinity };
    case 'within':
      return { from: today - test.days, to: today + test.days + 1 };
    default:
      return OPEN;
  }
}

/** What is there to try within a span, where values come in steps; nothing where they may not. */
function stepsIn({ from, to }: Ends, tests: readonly RuleTest[], column: Column): number[] | null {
  const multiple = tests.find((test) => test.is === 'multiple');
  const isWhole =
    ['date', 'wholeNumber'].includes(column.kind) || tests.some(({ is }) => is === 'whole');
  const step = multiple?.is === 'multiple' ? multiple.of : isWhole ? 1 : 0;
  const first = Math.ceil(from / step - 1e-9);
  const count = Math.floor(to / step + 1e-9) - first + 1;
  if (step === 0 || !Number.isFinite(count) || count > MOST_TRIED) return null;
  return Array.from({ length: Math.max(0, count) }, (_, n) => (first + n) * step);
}

/** How many signs a text has that passes. */
function lengthOf(test: RuleTest): Ends {
  switch (test.is) {
    case 'length':
      return { from: test.from ?? 0, to: test.to ?? Infinity };
    case 'contains':
    case 'begins':
    case 'ends':
      return { from: graphemeCount(foldText(test.text)), to: Infinity };
    case 'picture': {
      const count = (readPicture(test.picture) ?? []).reduce(
        (sum, place) => sum + (place.is === 'fixed' ? graphemeCount(place.text) : place.times),
        0,
      );
      return { from: count, to: count };
    }
    default:
      return OPEN;
  }
}

/** Whether a text that has to be there has signs that may not. */
function clash(tests: readonly RuleTest[]): boolean {
  const sets = tests.flatMap((test) => (test.is === 'madeOf' ? [test] : []));
  const signs = tests.flatMap((test) =>
    test.is === 'contains' || test.is === 'begins' || test.is === 'ends'
      ? // Letters count whatever their case and accents; they are not looked at.
        graphemesOf(foldText(test.text)).filter((sign) => !/\p{L}/u.test(sign))
      : [],
  );
  return sets.some(({ of, also = '' }) =>
    signs.some((sign) => {
      if (graphemesOf(also).includes(sign)) return false;
      return !(/^\d$/.test(sign)
        ? of.includes('figures')
        : /^\s$/.test(sign) && of.includes('blanks'));
    }),
  );
}
