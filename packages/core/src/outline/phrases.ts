import { controlsOf, type ControlId } from '../forms';
import { foldText, KIND_IDS, type Column, type KindId } from '../kinds';
import { nearestWord } from '../values';

/** What an outline calls a kind of column, filled with a control. */
export interface Phrase {
  readonly words: string;
  readonly kind: KindId;
  /** Absent, the kind's usual one. */
  readonly control?: ControlId;
}

/** How kinds are called, with their usual control. */
const KIND_WORDS: Readonly<Record<KindId, string>> = {
  text: 'text',
  wholeNumber: 'whole number',
  number: 'number',
  money: 'money',
  date: 'date',
  time: 'time',
  moment: 'moment',
  yesNo: 'yes/no',
  oneChoice: 'one of',
  severalChoices: 'several of',
  email: 'email',
  phone: 'phone',
  webAddress: 'web address',
  file: 'file',
  computed: 'computed',
  runningNumber: 'running number',
  writtenAt: 'written at',
  writtenBy: 'written by',
  door: 'door',
};

/** How they are called with another control; `*` stands for the kind's own words. */
const CONTROL_WORDS: Readonly<Partial<Record<ControlId, string>>> = {
  lines: 'lines',
  number: '* with steps',
  dateLists: 'date from lists',
  radio: 'radio of',
  pictures: 'pictures of',
  checked: 'confirmed',
  steps: '* steps',
  scale: '* scale',
};

/** Whole numbers are what steps and scales are of, unless it is said otherwise. */
const SHORT: Readonly<Record<string, string>> = {
  'whole number steps': 'steps',
  'whole number scale': 'scale',
};

/** What else people write. */
const ALSO: readonly (readonly [words: string, means: string])[] = [
  ['line', 'text'],
  ['one line', 'text'],
  ['short text', 'text'],
  ['several lines', 'lines'],
  ['long text', 'lines'],
  ['notes', 'lines'],
  ['integer', 'whole number'],
  ['count', 'whole number'],
  ['amount', 'money'],
  ['price', 'money'],
  ['day', 'date'],
  ['date and time', 'moment'],
  ['yes or no', 'yes/no'],
  ['confirm', 'confirmed'],
  ['choice of', 'one of'],
  ['dropdown of', 'one of'],
  ['list of', 'one of'],
  ['any of', 'several of'],
  ['checkboxes of', 'several of'],
  ['boxes of', 'several of'],
  ['rating', 'steps'],
  ['mail', 'email'],
  ['email address', 'email'],
  ['phone number', 'phone'],
  ['link', 'web address'],
  ['picture', 'file'],
  ['photo', 'file'],
];

const PHRASES: readonly Phrase[] = KIND_IDS.flatMap((kind): Phrase[] => {
  const [, ...others] = controlsOf({ kind });
  return [
    { words: KIND_WORDS[kind], kind },
    ...others.map(({ id: control }) => {
      const words = (CONTROL_WORDS[control] ?? `* by ${control}`).replace('*', KIND_WORDS[kind]);
      return { words: SHORT[words] ?? words, kind, control };
    }),
  ];
});

const BY_WORDS = new Map(PHRASES.map((phrase) => [phrase.words, phrase]));
for (const [words, means] of ALSO) {
  const phrase = BY_WORDS.get(means);
  if (phrase) BY_WORDS.set(words, phrase);
}

/** The longest first, so that `whole number` is not taken for something that begins like it. */
const ALL_WORDS = [...BY_WORDS.keys()].sort((a, b) => b.length - a.length);

/** Those that begin with a letter: an outline is read anew at each key. */
const BY_LETTER = new Map<string, string[]>();
for (const words of ALL_WORDS) {
  const letter = words.charAt(0);
  BY_LETTER.set(letter, [...(BY_LETTER.get(letter) ?? []), words]);
}

/** The phrase a text begins with, and what stands behind it. */
export function readPhrase(text: string): { phrase: Phrase; rest: string } | null {
  const low = text.toLowerCase();
  for (const words of BY_LETTER.get(low.charAt(0)) ?? []) {
    if (!low.startsWith(words) || /^[\p{L}\p{N}]/u.test(low.slice(words.length))) continue;
    const phrase = BY_WORDS.get(words);
    if (phrase) return { phrase, rest: text.slice(words.length) };
  }
  return null;
}

/** The phrases that have a name which begins like a text, by that name. */
export function phrasesLike(text: string): Phrase[] {
  const folded = foldText(text);
  const own = PHRASES.filter(({ words }) => foldText(words).startsWith(folded));
  const also = ALSO.flatMap(([words, means]): Phrase[] => {
    const phrase = BY_WORDS.get(means);
    return phrase && foldText(words).startsWith(folded) && !own.includes(phrase)
      ? [{ ...phrase, words }]
      : [];
  });
  return [...own, ...also];
}

/** What a column filled with a control is called. */
export function phraseOf(column: Column, control: ControlId | undefined): string {
  const own = PHRASES.find((each) => each.kind === column.kind && each.control === control);
  return own?.words ?? KIND_WORDS[column.kind];
}

/** How many words of a text are held against those that are known. */
const MOST_WORDS = 3;
/** Shorter ones are like too many. */
const LEAST_LIKE = 3;

/**
 * The words most like what a text begins with, as `numbr 0..9` does with `number`; `null` where
 * nothing is like it.
 */
export function nearest(text: string, words: readonly string[]): string | null {
  const parts = text.trim().split(/\s+/);
  const beginnings = Array.from({ length: Math.min(MOST_WORDS, parts.length - 1) }, (_, n) =>
    parts.slice(0, n + 1).join(' '),
  ).filter((each) => each.length >= LEAST_LIKE);
  for (const each of [text, ...beginnings.reverse()]) {
    const near = likest(each, words);
    if (near !== null) return near;
  }
  return null;
}

function likest(text: string, words: readonly string[]): string | null {
  const folded = foldText(text);
  const most = Math.max(1, Math.floor(folded.length / 3));
  return nearestWord(folded, words, () => most, true);
}

export const nearestPhrase = (text: string): string | null => nearest(text, ALL_WORDS);
