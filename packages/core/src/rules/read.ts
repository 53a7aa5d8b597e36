import {
  isRule,
  kindOf,
  SIGN_SETS,
  type Column,
  type Condition,
  type Relation,
  type Rule,
  type RuleTest,
  type SignSet,
  type Span,
  type When,
} from '../kinds';
import { STRICTNESSES, type LocaleFacts, type Strictness } from '../values';
import { DATED, MEASURED, OUTLINE_WORDS, SETS } from './say';

/** What reading a rule needs to know. */
export interface RuleGrammar {
  readonly column: Column;
  /** The columns of its sheet. */
  readonly columns: readonly Column[];
  readonly locale: LocaleFacts;
  /** How parts are read that are written in another notation than people read. */
  readonly notation?: {
    readonly value: (text: string, column: Column) => number | null;
    /** A text in double quotes, read whole. */
    readonly text: (quoted: string) => string;
  };
}

/** A rule as it was read, or where it could not be read on. */
export type RuleReading =
  { readonly ok: true; readonly rule: Rule } | { readonly ok: false; readonly at: number };

/** Thrown where a sentence can’t be read on. */
class Unread extends Error {
  constructor(readonly at: number) {
    super('the rule can’t be read');
  }
}

/** How a secret word is asked for, as it is said now and as it was said before. */
const SECRET = ['match the secret word', 'be the secret word'];
/** What a value or a heading without quotes ends at. */
const END = /(?:(?<!\s)\s+(?:(?:and|or|to|when)\s|")|[);]|$)/;
const UNITS = /^\s*(?:characters?|days?)\b/;

/**
 * Reads a rule from the sentence that `sayRule` makes of it. What stands before *must* and behind
 * *otherwise* may be left out: `be from 0 to 14` refuses.
 */
export function readRule(sentence: string, grammar: RuleGrammar): RuleReading {
  try {
    return { ok: true, rule: new Sentence(sentence, grammar).rule() };
  } catch (error) {
    if (error instanceof Unread) return { ok: false, at: error.at };
    throw error;
  }
}

/** What a rule of an outline begins with. */
export const RULE_WORDS = [
  ...Object.values(OUTLINE_WORDS),
  'ask above',
  'ask below',
  'note above',
  'note below',
] as const;
export type RuleWord = (typeof RULE_WORDS)[number];

/** Reads a rule of an outline from what stands behind its word. */
export function readOutlinedRule(word: RuleWord, text: string, grammar: RuleGrammar): RuleReading {
  try {
    return { ok: true, rule: new Sentence(text, grammar).outlined(word) };
  } catch (error) {
    if (error instanceof Unread) return { ok: false, at: error.at };
    throw error;
  }
}

/** What was read of a rule. */
interface Parts {
  readonly must: Condition;
  readonly always: boolean;
  readonly when: When | null;
  readonly strictness: Strictness;
  readonly message: string | undefined;
}

/** A sentence while it is read, from its beginning to its end. */
class Sentence {
  private at = 0;
  private readonly text: string;
  private column: Column;

  constructor(
    text: string,
    private readonly grammar: RuleGrammar,
  ) {
    this.text = text.trimEnd();
    this.column = grammar.column;
  }

  rule(): Rule {
    this.beginning();
    const always = this.word('always');
    const must = this.must();
    const when = this.word('when') ? this.when() : null;
    const { strictness = 'refuse', message } = this.otherwise();
    this.sign('.');
    return this.whole({ must, always, when, strictness, message });
  }

  outlined(word: RuleWord): Rule {
    const [first, side] = word.split(' ');
    const always = side === undefined && this.word('always');
    const must: Condition =
      side === undefined
        ? this.must()
        : { is: 'between', [side === 'above' ? 'to' : 'from']: this.value() };
    const when = this.word('when') ? this.when() : null;
    this.blanks();
    const message = this.isQuote() ? this.quoted() : undefined;
    const strictness =
      STRICTNESSES.find((each) => each === first || OUTLINE_WORDS[each] === first) ?? 'refuse';
    return this.whole({ must, always, when, strictness, message });
  }

  private must(): Condition {
    if (this.isNext('be unique')) return this.unique();
    if (SECRET.some((words) => this.isNext(words))) return this.secretWord();
    return this.condition(false);
  }

  private whole({ must, always, when, strictness, message }: Parts): Rule {
    const rule = {
      must,
      ...(always && { always }),
      ...(when && { when }),
      ...(message !== undefined && { message }),
      ...(strictness !== 'refuse' && { strictness }),
    };
    if (this.rest().trim() !== '' || !isRule(rule)) throw this.unread();
    return rule;
  }

  private rest(): string {
    return this.text.slice(this.at);
  }

  private unread(): Unread {
    return new Unread(this.at);
  }

  private blanks(): void {
    this.at += /^\s*/.exec(this.rest())?.[0].length ?? 0;
  }

  /** Goes past words that come next, whatever their case. */
  private word(words: string): boolean {
    if (!this.isNext(words)) return false;
    this.blanks();
    this.at += words.length;
    return true;
  }

  private isNext(words: string): boolean {
    const next = this.rest().trimStart();
    return (
      next.slice(0, words.length).toLowerCase() === words &&
      !/^[\p{L}\p{N}]/u.test(next.slice(words.length))
    );
  }

  private sign(sign: string): boolean {
    this.blanks();
    if (!this.rest().startsWith(sign)) return false;
    this.at += sign.length;
    return true;
  }

  private need(isRead: boolean): void {
    if (!isRead) throw this.unread();
  }

  /** Past the heading, if it is said. */
  private beginning(): void {
    const { heading } = this.grammar.column;
    this.blanks();
    if (this.rest().startsWith(`${heading} must `)) this.at += heading.length;
    this.word('must');
  }

  /** Conditions with *and*, or with *or*, between them; no mixture without brackets. */
  private condition(isStated: boolean): Condition {
    const of = [this.part(isStated)];
    const joint = this.isNext('and') ? 'and' : 'or';
    while (this.word(joint)) of.push(this.part(isStated));
    const [first] = of;
    return first && of.length === 1 ? first : { is: joint === 'and' ? 'all' : 'any', of };
  }

  private part(isStated: boolean): Condition {
    if (this.sign('(')) {
      const inner = this.condition(isStated);
      this.need(this.sign(')'));
      return inner;
    }
    let not = this.word(isStated ? 'does not' : 'not');
    const verb = this.verb(isStated && !not);
    if (isStated && verb === 'be') not = this.word('not');
    const { not: isBeyond = false, ...test } = this.test(verb);
    return not === isBeyond ? test : { ...test, not: true };
  }

  private verb(isStated: boolean): string {
    for (const [verb, stated] of VERBS) if (this.word(isStated ? stated : verb)) return verb;
    throw this.unread();
  }

  private test(verb: string): RuleTest & { not?: true } {
    switch (verb) {
      case 'have':
        return { is: 'length', ...this.length() };
      case 'contain':
        return { is: 'contains', text: this.quoted() };
      case 'begin with':
        return { is: 'begins', text: this.quoted() };
      case 'end with':
        return { is: 'ends', text: this.quoted() };
      case 'match':
        this.need(this.word('the pattern'));
        return { is: 'matches', pattern: this.quoted() };
      default:
        return this.being();
    }
  }

  private being(): RuleTest & { not?: true } {
    for (const [words, test] of PLAIN) if (this.word(words)) return test;
    if (this.word('made of')) return this.madeOf();
    if (this.word('written like')) return { is: 'picture', picture: this.quoted() };
    if (this.word('a phone number')) return this.phone();
    if (this.word('a multiple of')) return { is: 'multiple', of: this.value() };
    if (this.word('within')) {
      const days = this.count();
      this.need(this.word('of today'));
      return { is: 'within', days };
    }
    const compared = this.compared();
    if (compared) return compared;
    this.blanks();
    if (this.isQuote()) return { is: 'oneOf', values: this.quotes('or') };
    return this.beyond() ?? { is: 'between', ...this.span() };
  }

  /** What lies beyond one end: `more than 5`, `before 1/3/2026`. */
  private beyond(): (RuleTest & { not: true }) | null {
    for (const { '>': over, '<': under } of [MEASURED, DATED]) {
      if (this.word(over)) return { is: 'between', to: this.value(), not: true };
      if (this.word(under)) return { is: 'between', from: this.value(), not: true };
    }
    return null;
  }

  private madeOf(): RuleTest {
    const of: SignSet[] = [];
    let also: string | undefined;
    do {
      this.blanks();
      if (this.isQuote()) also = this.quoted();
      else {
        const set = SIGN_SETS.find((each) => this.word(SETS[each]));
        if (!set) throw this.unread();
        of.push(set);
      }
    } while (this.sign(',') || this.word('and'));
    this.need(this.word('only'));
    return { is: 'madeOf', of, ...(also !== undefined && { also }) };
  }

  private phone(): RuleTest {
    if (!this.sign('(')) return { is: 'phone' };
    const country = this.rest().slice(0, 2);
    this.at += 2;
    this.need(this.sign(')'));
    return { is: 'phone', country };
  }

  /** Another column: the longest heading that comes next. */
  private compared(): RuleTest | null {
    const start = this.at;
    const words = kindOf(this.column).iso === undefined ? MEASURED : DATED;
    const relations = Object.entries(words) as [Relation, string][];
    for (const [by, said] of relations.sort(([, a], [, b]) => b.length - a.length)) {
      if (!this.word(said)) continue;
      const columnId = this.heading();
      if (columnId !== null) return { is: 'compared', by, columnId };
      this.at = start;
    }
    return null;
  }

  private heading(): string | null {
    this.blanks();
    const { columns } = this.grammar;
    if (this.isQuote()) {
      const start = this.at;
      const said = this.quoted();
      const found = columns.find(({ heading }) => heading === said);
      if (!found) this.at = start;
      return found?.id ?? null;
    }
    const rest = this.rest();
    const [found] = columns
      .filter(({ heading }) => heading !== '' && rest.startsWith(heading))
      .filter(({ heading }) => !/^[\p{L}\p{N}]/u.test(rest.slice(heading.length)))
      .sort((a, b) => b.heading.length - a.heading.length);
    if (!found) return null;
    this.at += found.heading.length;
    return found.id;
  }

  private unique(): Condition {
    this.need(this.word('be unique'));
    if (!this.word('together with')) return { is: 'unique' };
    const others: string[] = [];
    do {
      const id = this.heading();
      if (id === null) throw this.unread();
      others.push(id);
    } while (this.sign(',') || this.word('and'));
    return { is: 'unique', with: others };
  }

  private secretWord(): Condition {
    this.need(SECRET.some((words) => this.word(words)));
    const name = this.quoted();
    return { is: 'secretWord', name, ...(this.word('(not stored)') && { forgotten: true }) };
  }

  private when(): When {
    const columnId = this.heading();
    const column = this.grammar.columns.find(({ id }) => id === columnId);
    if (columnId === null || !column) throw this.unread();
    if (this.word('is blank')) return { columnId, holds: 'blank' };
    if (this.word('is filled in')) return { columnId, holds: 'answer' };
    const own = this.column;
    this.column = column;
    const holds = this.condition(true);
    this.column = own;
    return { columnId, holds };
  }

  private otherwise(): { strictness?: Strictness; message?: string } {
    if (!this.sign(';')) return {};
    this.need(this.word('otherwise'));
    const strictness = (['refuse', 'ask', 'note'] as const).find((each) => this.word(each));
    if (!strictness) throw this.unread();
    if (!this.word('and say')) return { strictness };
    return { strictness, message: this.quoted() };
  }

  private span(): Span {
    if (this.word('from')) {
      const from = this.value();
      this.need(this.word('to'));
      return { from, to: this.value() };
    }
    if (this.word('at least') || this.word('on or after')) return { from: this.value() };
    if (this.word('at most') || this.word('on or before')) return { to: this.value() };
    const value = this.value();
    return { from: value, to: value };
  }

  private length(): Span {
    if (this.word('exactly')) {
      const count = this.count();
      return { from: count, to: count };
    }
    if (this.word('at least')) return { from: this.count() };
    if (this.word('at most')) return { to: this.count() };
    const from = this.count();
    this.need(this.word('to'));
    return { from, to: this.count() };
  }

  /** A count, its thousands grouped or not, and what it counts. */
  private count(): number {
    this.blanks();
    const figures = /^\d[\d,]*/.exec(this.rest())?.[0] ?? '';
    if (figures === '') throw this.unread();
    this.at += figures.length;
    this.at += UNITS.exec(this.rest())?.[0].length ?? 0;
    return Number(figures.replaceAll(',', ''));
  }

  /** A number, an amount, a date up to where the sentence goes on. */
  private value(): number {
    this.blanks();
    const rest = this.rest();
    const until = END.exec(rest)?.index ?? rest.length;
    // The sentence may end here, with its stop.
    const text = rest.slice(0, until).replace(/\.$/, '');
    const value = this.readValue(text);
    if (value === null) throw this.unread();
    this.at += text.length;
    return value;
  }

  private readValue(text: string): number | null {
    const { notation, locale } = this.grammar;
    if (notation) return notation.value(text, this.column);
    const reading = kindOf(this.column).read(text, this.column, { locale, now: 0 });
    return reading.ok && typeof reading.value === 'number' ? reading.value : null;
  }

  private isQuote(): boolean {
    return /^[‘"]/.test(this.rest());
  }

  private quotes(word: string): string[] {
    const texts = [this.quoted()];
    // `or` may go on with another condition.
    const goesOn = (): boolean => {
      const start = this.at;
      if (this.sign(',') || this.word(word)) {
        this.blanks();
        if (this.isQuote()) return true;
      }
      this.at = start;
      return false;
    };
    while (goesOn()) texts.push(this.quoted());
    return texts;
  }

  /** A text in quotes; a closing one in it is doubled where no letter follows. */
  private quoted(): string {
    this.blanks();
    if (!this.isQuote()) throw this.unread();
    if (this.rest().startsWith('"')) return this.doubleQuoted();
    let text = '';
    for (let at = this.at + 1; at < this.text.length; at += 1) {
      const sign = this.text.charAt(at);
      if (sign === '’' && this.text.charAt(at + 1) === '’') at += 1;
      else if (sign === '’' && !/^[\p{L}\p{N}]/u.test(this.text.slice(at + 1, at + 3))) {
        this.at = at + 1;
        return text;
      }
      text += sign;
    }
    throw this.unread();
  }

  private doubleQuoted(): string {
    const whole = DOUBLE_QUOTED.exec(this.rest())?.[0];
    if (whole === undefined) throw this.unread();
    this.at += whole.length;
    return this.grammar.notation?.text(whole) ?? whole.slice(1, -1).replaceAll('""', '"');
  }
}

/** A text in double quotes, one in it doubled. */
const DOUBLE_QUOTED = /^"(?:[^"]|"")*"/;

/** Verbs as they follow *must*, and as they follow a heading. */
const VERBS: readonly (readonly [verb: string, stated: string])[] = [
  ['be', 'is'],
  ['have', 'has'],
  ['contain', 'contains'],
  ['begin with', 'begins with'],
  ['end with', 'ends with'],
  ['match', 'matches'],
];

/** Tests that say nothing more. */
const PLAIN: readonly (readonly [words: string, test: RuleTest])[] = [
  ['an email address', { is: 'mail' }],
  ['a web address', { is: 'webAddress' }],
  ['a whole number', { is: 'whole' }],
  ['before today', { is: 'past' }],
  ['after today', { is: 'future' }],
  ['from monday to friday', { is: 'weekday' }],
];
