import { fromWire, toWire, type Column, type Rule } from '../kinds';
import {
  readOutlinedRule,
  RULE_WORDS,
  sayOutlinedRule,
  type RuleNotation,
  type RuleWord,
} from '../rules';
import { localeFacts } from '../values';
import type { Attribute, LineEntry, RulePiece } from './line';
import { quoted, unquoted } from './pieces';
import { OutlineError } from './problem';

/*
 * What a line says of the rules of its column: `must be from 0 to 14`, `ask above 9 "Rinse it."`.
 * Rules may be about columns of later lines, and are read once all lines are.
 */

/** Outlines are written alike in all locales; none is asked. */
const ANY_LOCALE = localeFacts('en');

const NOTATION: RuleNotation = {
  value: (value, column) => {
    const wire = toWire(value, column);
    return typeof wire === 'string' ? wire : String(value);
  },
  text: quoted,
  list: (parts, word) => parts.join(` ${word} `),
  count: (count, one) => `${count} ${count === 1 ? one : `${one}s`}`,
};

function readValue(text: string, column: Column): number | null {
  const value = fromWire(text, column);
  const number = typeof value === 'number' ? value : Number(text);
  return text.trim() !== '' && Number.isFinite(number) ? number : null;
}

/** Rules of the column; all of them are written by the first. */
const ofColumn = (word: RuleWord): Attribute => ({
  words: word,
  read: (rest, draft) => void (draft.rules ??= []).push({ word, rest }),
  write: (entry) =>
    word === RULE_WORDS[0] && entry.shape !== 'boxes'
      ? writeRules(entry.column.settings.rules, entry)
      : null,
});

/** Rules of the field alone: `here must be at most 9`. */
const ofField = (word: RuleWord): Attribute => ({
  words: `here ${word}`,
  read: (rest, draft) => void (draft.ownRules ??= []).push({ word, rest }),
  write: (entry) => (word === RULE_WORDS[0] ? writeRules(entry.field.rules, entry, 'here ') : null),
});

export const RULE_ATTRIBUTES: readonly Attribute[] = [
  ...RULE_WORDS.map(ofColumn),
  ...RULE_WORDS.map(ofField),
];

function writeRules(
  rules: readonly Rule[] = [],
  { column, columns, headingOf }: LineEntry,
  before = '',
): string | null {
  if (rules.length === 0) return null;
  const words = { column, columns, headingOf, notation: NOTATION, locale: ANY_LOCALE };
  return rules.map((rule) => `${before}${sayOutlinedRule(rule, words)}`).join(', ');
}

/** Reads a rule of a column. @throws OutlineError where it can't be read on */
export function readRuleOf(
  { word, rest }: RulePiece,
  column: Column,
  columns: readonly Column[],
): Rule {
  const notation = { value: readValue, text: unquoted };
  const grammar = { column, columns, locale: ANY_LOCALE, notation };
  const read = readOutlinedRule(word, rest.text, grammar);
  if (read.ok) return read.rule;
  const { at } = read;
  const unread = rest.text.slice(at).trim();
  const text = unread.length > 60 ? `${unread.slice(0, 59)}…` : unread;
  throw new OutlineError({ code: 'ruleUnread', text }, rest.at + at, Math.max(1, unread.length));
}
