import { isPlainId } from '../forms';
import { KIND_IDS, kindOf, LONGEST_NAME, misfittingSettings } from '../kinds';
import type { Attribute, LineDraft, LineEntry } from './line';
import { LIST_ATTRIBUTES } from './lists';
import { RULE_ATTRIBUTES } from './rules';
import {
  formulaPiece,
  isQuoted,
  plainOrQuoted,
  quoted,
  splitAt,
  trimmed,
  unquoted,
  type Piece,
} from './pieces';
import { readPhrase, phraseOf } from './phrases';
import { OutlineError } from './problem';

const isPlainValue = (text: string): boolean => !/[,(){}=']/.test(text);

/** A value that is written in quotes only where it has to be. */
const value = (text: string): string => plainOrQuoted(text, isPlainValue);

export function readFormula(rest: Piece, word: string): string {
  const text = rest.text.replace(/^=/, '').trim();
  if (text === '') throw new OutlineError({ code: 'noFormula', word }, rest.at, 1);
  return text;
}

export function readNumber({ text, at }: Piece, unit = ''): number {
  const figures = text.endsWith(unit) ? text.slice(0, text.length - unit.length).trim() : text;
  if (!/^-?\d+(?:\.\d+)?$/.test(figures)) {
    throw new OutlineError({ code: 'noNumber', text }, at, Math.max(1, text.length));
  }
  return Number(figures);
}

/** What a column is called. */
export function readHeading({ text, at }: Piece): string {
  const heading = unquoted(text);
  if (heading !== '' && heading.length <= LONGEST_NAME) return heading;
  const allowed = `a heading of 1 to ${LONGEST_NAME} characters`;
  const said = text.length > 60 ? `${text.slice(0, 59)}…` : text;
  throw new OutlineError(
    { code: 'outOfBounds', text: said, allowed },
    at,
    Math.max(1, text.length),
  );
}

/** Says that a word does not go with the kind of the line's column. */
function misfit(words: string, draft: LineDraft, at: number): OutlineError {
  const { label } = kindOf(draft);
  return new OutlineError({ code: 'doesNotFit', text: words, kind: label }, at, words.length);
}

/** A mark that is there or is not. */
function mark(
  words: string,
  set: (draft: LineDraft) => void,
  isSet: (entry: LineEntry) => boolean,
  also: readonly string[] = [],
): Attribute {
  return {
    words,
    also,
    read(rest, draft) {
      if (rest.text !== '') {
        throw new OutlineError(
          { code: 'unknownWord', text: rest.text, near: null },
          rest.at,
          rest.text.length,
        );
      }
      set(draft);
    },
    write: (entry) => (isSet(entry) ? words : null),
  };
}

/** Several values in brackets, each with what belongs to it: `(Low = a, High = b)`. */
function readPairs(rest: Piece): Record<string, string> {
  const inner = { text: rest.text.replace(/^\(|\)$/g, ''), at: rest.at + 1 };
  const pairs = splitAt(inner, ',').map((pair) => splitAt(pair, '=').map(({ text }) => text));
  return Object.fromEntries(
    pairs.map(
      ([name = '', id = '']) => [unquoted(name), readFileId({ ...rest, text: id })] as const,
    ),
  );
}

/** A file that is stored already, by its id. */
export function readFileId({ text, at }: Piece): string {
  const id = unquoted(text);
  if (isPlainId(id)) return id;
  const problem = { code: 'noFile', text: id.slice(0, 60) } as const;
  throw new OutlineError(problem, at, Math.max(1, text.length));
}

/** In the order they are written. */
export const ATTRIBUTES: readonly Attribute[] = [
  ...LIST_ATTRIBUTES,
  ...RULE_ATTRIBUTES,
  {
    words: 'own answer',
    also: ['or another', 'other allowed'],
    read: ({ text }, { settings }) => {
      settings.own = unquoted(text.replace(/^after\b/, ''));
    },
    write: ({ column: { settings } }) =>
      settings.own === undefined
        ? null
        : `own answer${settings.own === '' ? '' : ` after ${quoted(settings.own)}`}`,
  },
  {
    words: 'separated by',
    also: ['parted by'],
    read(rest, draft) {
      if (draft.kind !== 'severalChoices') throw misfit('separated by', draft, rest.at);
      draft.settings.separator = unquoted(rest.text);
    },
    write: ({ column: { settings } }) =>
      settings.separator === undefined ? null : `separated by ${quoted(settings.separator)}`,
  },
  {
    words: 'unit',
    also: ['in'],
    read: ({ text }, { settings }) => void (settings.unit = unquoted(text)),
    write: ({ column: { settings } }) =>
      settings.unit === undefined ? null : `unit ${value(settings.unit)}`,
  },
  {
    words: 'by',
    also: ['step', 'in steps of'],
    read: (rest, { details }) => void (details.step = readNumber(rest)),
    write: ({ details: { step } }) => (step === undefined ? null : `by ${step}`),
  },
  mark(
    'as figures',
    ({ details }) => void (details.figures = true),
    ({ details }) => details.figures === true,
  ),
  {
    words: 'ends',
    read(rest, { details }) {
      const [low, high] = splitAt(rest, ' and ').map(({ text }) => unquoted(text));
      details.ends = [low ?? '', high ?? ''];
    },
    write: ({ details: { ends } }) =>
      ends ? `ends ${quoted(ends[0])} and ${quoted(ends[1])}` : null,
  },
  mark(
    'in a row',
    ({ details }) => void (details.inRow = true),
    ({ details }) => details.inRow === true,
  ),
  {
    words: 'pictures',
    read: (rest, { details }) => void (details.pictures = readPairs(rest)),
    write: ({ details: { pictures } }) =>
      pictures
        ? `pictures (${Object.entries(pictures)
            .map(([choice, id]) => `${quoted(choice)} = ${value(id)}`)
            .join(', ')})`
        : null,
  },
  mark(
    'picture follows',
    ({ details }) => void (details.follows = true),
    ({ details }) => details.follows === true,
  ),
  mark(
    'suggests',
    ({ details }) => void (details.suggests = true),
    ({ details }) => details.suggests === true,
  ),
  {
    words: 'high',
    read: (rest, { details }) => void (details.lines = readNumber(rest, 'lines')),
    write: ({ details: { lines } }) => (lines === undefined ? null : `high ${lines} lines`),
  },
  {
    words: 'only',
    read({ text, at }, { details }) {
      if (text !== 'images' && text !== 'documents') {
        const problem = { code: 'unknownWord', text, near: 'images' } as const;
        throw new OutlineError(problem, at, Math.max(1, text.length));
      }
      details.accepts = text;
    },
    write: ({ details: { accepts } }) => (accepts ? `only ${accepts}` : null),
  },
  {
    words: 'up to',
    read: (rest, { details }) => void (details.most = readNumber(rest, 'MB')),
    write: ({ details: { most } }) => (most === undefined ? null : `up to ${most} MB`),
  },
  {
    words: 'required when',
    also: ['needed when', 'required if'],
    read: (rest, { field }) => void (field.requiredWhen = readFormula(rest, 'required when')),
    write: ({ field: { requiredWhen } }) =>
      requiredWhen === undefined ? null : `required when ${formulaPiece(requiredWhen)}`,
  },
  mark(
    'required',
    ({ field }) => void (field.required = true),
    ({ field }) => field.required === true,
    ['needed', 'mandatory'],
  ),
  {
    words: 'says',
    read: ({ text }, { field }) => void (field.says = unquoted(text)),
    write: ({ field: { says } }) => (says === undefined ? null : `says ${quoted(says)}`),
  },
  {
    words: 'hint',
    also: ['help'],
    read: ({ text }, { field }) => void (field.hint = unquoted(text)),
    write: ({ field: { hint } }) => (hint === undefined ? null : `hint ${quoted(hint)}`),
  },
  {
    words: 'starts',
    also: ['default', 'starting value'],
    read(rest, { field }) {
      const text = rest.text.trim();
      const word = text.toLowerCase();
      if (word === 'today' || word === 'now') field.start = { kind: word };
      else if (/^next\b/i.test(text)) {
        const pattern = unquoted(text.slice('next'.length));
        field.start = { kind: 'next', ...(pattern !== '' && { pattern }) };
      } else if (text.startsWith('=')) {
        field.start = { kind: 'formula', formula: readFormula(rest, 'starts =') };
      } else {
        const begins = /^with\b(.*)$/s.exec(text);
        field.start = begins
          ? { kind: 'beginning', text: unquoted(begins[1] ?? '') }
          : { kind: 'text', text: unquoted(text) };
      }
    },
    write({ start }) {
      if (!start) return null;
      switch (start.kind) {
        case 'text':
          return `starts ${quoted(start.text)}`;
        case 'beginning':
          return `starts with ${quoted(start.text)}`;
        case 'next':
          return start.pattern === undefined
            ? 'starts next'
            : `starts next ${quoted(start.pattern)}`;
        case 'formula':
          return `starts = ${formulaPiece(start.formula)}`;
        default:
          return `starts ${start.kind}`;
      }
    },
  },
  {
    words: 'as a suggestion',
    also: ['only suggested'],
    read({ at }, { field }) {
      const text = 'as a suggestion';
      if (!field.start) throw new OutlineError({ code: 'standsAlone', text }, at, 1);
      field.start = { ...field.start, suggestion: true };
    },
    write: ({ start }) => (start?.suggestion ? 'as a suggestion' : null),
  },
  // Outlines of earlier versions say of a starting value that it counts, as all do now.
  mark(
    'counts',
    () => undefined,
    () => false,
  ),
  {
    words: 'kept',
    read({ at }, { field }) {
      if (!field.start) throw new OutlineError({ code: 'standsAlone', text: 'kept' }, at, 1);
      field.start = { ...field.start, kept: true };
    },
    write: ({ start }) => (start?.kept ? 'kept' : null),
  },
  mark(
    'read only',
    ({ field }) => void (field.readOnly = true),
    ({ field }) => field.readOnly === true,
  ),
  {
    words: 'shown when',
    also: ['only when', 'shown if', 'show when'],
    read: (rest, draft) => void (draft.shownWhen = readFormula(rest, 'shown when')),
    write: ({ shownWhen }) =>
      shownWhen === undefined ? null : `shown when ${formulaPiece(shownWhen)}`,
  },
  {
    words: 'width',
    read: (rest, { field }) => void (field.width = readNumber(rest)),
    write: ({ field: { width } }) => (width === undefined ? null : `width ${width}`),
  },
  mark(
    'beside',
    ({ field }) => void (field.beside = true),
    ({ field }) => field.beside === true,
    ['same row'],
  ),
  mark(
    'each a column',
    (draft) => void (draft.shape = 'boxes'),
    () => false,
  ),
  {
    words: 'repeated',
    read(rest, draft) {
      draft.shape = 'repeated';
      if (rest.text !== '') draft.times = readNumber(rest, 'times');
    },
    write: ({ shape, times }) =>
      shape === 'repeated' ? `repeated${times === undefined ? '' : ` ${times} times`}` : null,
  },
  mark(
    'all different',
    (draft) => void (draft.different = true),
    ({ different }) => different,
  ),
  {
    words: 'column',
    also: ['heading'],
    read: (rest, draft) => void (draft.heading = readHeading(rest)),
    write: ({ heading }) => (heading === undefined ? null : `column ${quoted(heading)}`),
  },
  mark(
    'key',
    ({ settings }) => void (settings.key = true),
    ({ column }) => column.settings.key === true,
  ),
  {
    words: 'decimals',
    read: (rest, { settings }) => void (settings.decimals = readNumber(rest)),
    write: ({ column: { settings } }) =>
      settings.decimals === undefined ? null : `decimals ${settings.decimals}`,
  },
  mark(
    'grouped',
    ({ settings }) => void (settings.grouping = true),
    ({ column }) => column.settings.grouping === true,
  ),
  mark(
    'percent',
    ({ settings }) => void (settings.percent = true),
    ({ column }) => column.settings.percent === true,
  ),
  {
    words: 'digits',
    read: ({ text, at }, { settings }) =>
      void (settings.digitGroups = text.split('-').map((each) => readNumber({ text: each, at }))),
    write: ({ column: { settings } }) =>
      settings.digitGroups ? `digits ${settings.digitGroups.join('-')}` : null,
  },
  {
    words: 'looks like',
    read({ text, at }, draft) {
      const datePattern = unquoted(text);
      const [unfit] = misfittingSettings({
        ...draft,
        id: '',
        heading: '',
        settings: { datePattern },
      });
      if (unfit) throw misfit('looks like', draft, at);
      draft.settings.datePattern = datePattern;
    },
    write: ({ column: { settings } }) =>
      settings.datePattern === undefined ? null : `looks like ${quoted(settings.datePattern)}`,
  },
  {
    words: 'currency',
    read: ({ text }, { settings }) => void (settings.currency = text.toUpperCase()),
    // Of money it stands with the kind.
    write: ({ column: { settings, kind } }) =>
      settings.currency === undefined || kind === 'money' ? null : `currency ${settings.currency}`,
  },
  {
    words: 'gives',
    read({ text, at }, { settings }) {
      const found = readPhrase(text);
      const kind = KIND_IDS.find((each) => each === found?.phrase.kind);
      if (!kind) {
        throw new OutlineError({ code: 'unknownKind', text, near: null }, at, text.length);
      }
      settings.shownAs = kind;
    },
    write: ({ column }) => {
      const { shownAs } = column.settings;
      // Of choices it is told by what feeds them.
      return shownAs === undefined || column.settings.list
        ? null
        : `gives ${phraseOf({ ...column, kind: shownAs }, undefined)}`;
    },
  },
  mark(
    'follows',
    ({ settings }) => void (settings.follows = true),
    ({ column }) => column.settings.follows === true,
  ),
];

/** The words attributes begin with, the longest first, each with its attribute. */
const BEGINNINGS: readonly (readonly [words: string, attribute: Attribute])[] = ATTRIBUTES.flatMap(
  (attribute) =>
    [attribute.words, ...(attribute.also ?? [])].map((words) => [words, attribute] as const),
).sort(([a], [b]) => b.length - a.length);

export const ATTRIBUTE_WORDS: readonly string[] = BEGINNINGS.map(([words]) => words);

/** Those that begin with a letter: an outline is read anew at each key. */
const BY_LETTER = new Map<string, (readonly [words: string, attribute: Attribute])[]>();
for (const beginning of BEGINNINGS) {
  const letter = beginning[0].charAt(0);
  BY_LETTER.set(letter, [...(BY_LETTER.get(letter) ?? []), beginning]);
}

/** The attribute a piece begins with, and what stands behind its words. */
export function attributeOf(piece: Piece): { attribute: Attribute; rest: Piece } | null {
  const { text, at } = trimmed(piece);
  if (isQuoted(text)) return null;
  const low = text.toLowerCase();
  for (const [words, attribute] of BY_LETTER.get(low.charAt(0)) ?? []) {
    if (!low.startsWith(words) || /^[\p{L}\p{N}]/u.test(low.slice(words.length))) continue;
    const rest = trimmed({ text: text.slice(words.length), at: at + words.length });
    return { attribute, rest };
  }
  return null;
}
