import { controlOf, withApostrophes, type FormulaGround } from '../forms';
import { helpAt, printReference } from '../formula';
import { foldText, type KindId } from '../kinds';
import { readDraft } from './draft';
import { splitAt, trimmed, type Piece } from './pieces';
import { phrasesLike, readPhrase, type Phrase } from './phrases';
import { BLOCK_WORDS, type BlockWord } from './plainBlocks';
import { writeLabel } from './write';

/** What a line of an outline could go on with. */
export interface OutlineOffer {
  /** What would stand where the word stands that is being typed. */
  readonly text: string;
  /** What it does, in a few words; '' where the text says it. */
  readonly about: string;
  /** Whether it mends what can't be read otherwise. */
  readonly mends: boolean;
}

/** Offers, and the stretch of the text that the one taken replaces. */
export interface OutlineOffers {
  readonly from: number;
  readonly to: number;
  readonly offers: readonly OutlineOffer[];
}

export interface OffersGround extends FormulaGround {
  /** Headings of columns that are not on the form yet. */
  readonly open: readonly string[];
}

/** The most that is offered at once. */
const MOST_OFFERED = 7;

/** What is offered behind a label before a letter is typed, the most used first. */
const USUAL_KINDS = ['text', 'number', 'one of', 'date', 'yes/no', 'money', 'lines'];
const USUAL_WORDS = ['required', 'hint "', 'starts ', 'shown when ', 'must be '];

const PARTS: Readonly<Partial<Record<BlockWord, string>>> = {
  heading: 'a heading over what follows',
  note: 'text for whoever fills in',
  page: 'begins a new page',
  divider: 'a line across',
  'message note': 'text a formula gives',
  'message good': 'the same, as good news',
  'message caution': 'the same, as a warning',
};

interface OfferedWord {
  readonly text: string;
  readonly about: string;
  /** The kinds it goes with; all where absent. */
  readonly kinds?: readonly KindId[];
}

const NUMBERS: readonly KindId[] = ['number', 'wholeNumber', 'money'];
const CHOICES: readonly KindId[] = ['oneChoice', 'severalChoices'];
const ORDERED: readonly KindId[] = [...NUMBERS, 'date', 'time', 'moment'];

/** What else can be said of a field, in the words that the outline reads. */
export const OFFERED_WORDS: readonly OfferedWord[] = [
  { text: 'required', about: 'has to be filled in' },
  { text: 'required when ', about: 'where a formula is true' },
  { text: 'hint "', about: 'a line of help under the label' },
  { text: 'starts ', about: 'what it holds at first' },
  { text: 'starts today', about: 'the day it is filled in', kinds: ['date'] },
  { text: 'starts now', about: 'the time it is filled in', kinds: ['time', 'moment'] },
  { text: 'shown when ', about: 'only where a formula is true' },
  { text: 'must be ', about: 'a rule' },
  { text: 'ask above ', about: 'asks about higher values', kinds: ORDERED },
  { text: 'ask below ', about: 'asks about lower values', kinds: ORDERED },
  { text: 'unit ', about: 'what is written behind it', kinds: [...NUMBERS, 'computed'] },
  { text: 'by ', about: 'the step it is counted in', kinds: NUMBERS },
  { text: 'decimals ', about: 'how many are shown', kinds: ['number', 'money', 'computed'] },
  { text: 'grouped', about: 'thousands apart', kinds: [...NUMBERS, 'computed'] },
  { text: 'percent', about: 'shown as a percentage', kinds: ['number', 'computed'] },
  { text: 'own answer', about: 'others can be typed', kinds: CHOICES },
  { text: 'in a row', about: 'choices beside each other', kinds: CHOICES },
  { text: 'shown with ', about: 'a label for each choice', kinds: CHOICES },
  { text: 'narrowed by ', about: 'by what another field holds', kinds: CHOICES },
  { text: 'separated by ', about: 'what stands between choices', kinds: ['severalChoices'] },
  { text: 'each a column', about: 'a yes or no for each choice', kinds: ['severalChoices'] },
  { text: 'suggests', about: 'what the column holds already', kinds: ['text'] },
  { text: 'high ', about: 'lines in height', kinds: ['text'] },
  { text: 'looks like ', about: 'how dates are written', kinds: ['date', 'moment'] },
  { text: 'says ', about: 'the text beside the box', kinds: ['yesNo'] },
  { text: 'only images', about: 'no other files', kinds: ['file'] },
  { text: 'only documents', about: 'no other files', kinds: ['file'] },
  { text: 'up to ', about: 'the most megabytes', kinds: ['file'] },
  { text: 'beside', about: 'on the row of the field before' },
  { text: 'read only', about: 'shown, not filled in' },
  { text: 'width ', about: 'share of the row' },
  { text: 'repeated ', about: 'several times, a column each' },
  { text: 'column "', about: 'what its column is called' },
  { text: 'key', about: 'tells records apart' },
];

const NONE: OutlineOffers = { from: 0, to: 0, offers: [] };

/** What stands before a formula in a piece of a line. */
const BEFORE_FORMULA =
  /^(?:computed\s*=?|starts\s*=|(?:shown|only|show|required|needed) (?:when|if)\b)\s*/i;

/**
 * What the line the caret is in could go on with: columns and parts before the colon, kinds behind
 * it, then what else can be said of a field, and in formulas headings and functions. Nothing where
 * what is typed stands there whole.
 *
 * @param caret a place in the text, from 0
 */
export function offersAt(text: string, caret: number, ground: OffersGround): OutlineOffers {
  const start = text.lastIndexOf('\n', caret - 1) + 1;
  const line = text.slice(start).split('\n', 1)[0] ?? '';
  const before = text.slice(start, caret);
  if (/^(?:\s|\/\/|#|>|-{3})/.test(line)) return NONE;
  // Offers come where one types on, not in the middle of a word.
  if (/^[\p{L}\p{N}]/u.test(line.slice(before.length))) return NONE;
  const [label = { text: '', at: 0 }, ...behind] = splitAt({ text: before, at: 0 }, ':');
  if (behind.length === 0) return moved(ofLabel(label, ground), start);
  const at = label.text.length + 1;
  const rest = { text: before.slice(at), at };
  if (/^message\b/.test(label.text.trim())) return moved(inFormula(trimStart(rest), ground), start);
  if (BLOCK_WORDS.some((word) => word === label.text.trim())) return NONE;
  return moved(ofField(rest, ground), start);
}

const trimStart = ({ text, at }: Piece): Piece => {
  const begun = text.trimStart();
  return { text: begun, at: at + text.length - begun.length };
};

const moved = ({ from, to, offers }: OutlineOffers, by: number): OutlineOffers => ({
  from: from + by,
  to: to + by,
  offers,
});

/** Offers for a word, those that begin like it; none where the word is all that is offered. */
function offersFor(word: Piece, all: readonly Omit<OutlineOffer, 'mends'>[]): OutlineOffers {
  const folded = foldText(word.text);
  const like = all.filter(({ text }) => {
    const offered = foldText(text.replace(/^"/, ''));
    return offered.startsWith(folded) && offered.trimEnd() !== folded.trimEnd();
  });
  const offers = like.slice(0, MOST_OFFERED).map((each) => ({ ...each, mends: false }));
  return { from: word.at, to: word.at + word.text.length, offers };
}

function ofLabel(label: Piece, { open }: OffersGround): OutlineOffers {
  const word = trimStart(label);
  if (word.text === '') return NONE;
  const parts = Object.entries(PARTS).map(([text, about]) => ({
    text: text === 'divider' ? text : `${text}: `,
    about,
  }));
  const columns = open.map((heading) => ({ text: writeLabel(heading), about: 'column' }));
  return offersFor(word, [...columns, ...parts]);
}

function ofField(rest: Piece, ground: OffersGround): OutlineOffers {
  const pieces = splitAt(rest, ',');
  const last = trimStart(pieces.at(-1) ?? rest);
  const formula = BEFORE_FORMULA.exec(last.text);
  const behind = formula?.[0].length ?? 0;
  if (formula && (behind < last.text.length || /=\s*$/.test(formula[0]))) {
    return inFormula({ text: last.text.slice(behind), at: last.at + behind }, ground);
  }
  if (pieces.length === 1) return ofKind(last);
  const { draft } = readDraft(trimmed(pieces[0] ?? rest));
  const said = pieces.slice(1, -1).map((piece) => trimmed(piece).text.toLowerCase());
  const fitting = OFFERED_WORDS.filter(
    ({ text, kinds }) =>
      (!kinds || (draft && kinds.includes(draft.kind))) &&
      !said.some((each) => each === text || (text.length > 3 && each.startsWith(text))),
  );
  if (last.text !== '') return offersFor(last, fitting);
  return offersFor(
    last,
    USUAL_WORDS.flatMap((word) => fitting.find(({ text }) => text === word) ?? []),
  );
}

/** Kinds, as long as none is typed whole with something behind it. */
function ofKind(word: Piece): OutlineOffers {
  const phrases =
    word.text === ''
      ? USUAL_KINDS.flatMap((words) => readPhrase(words)?.phrase ?? [])
      : phrasesLike(word.text);
  return offersFor(
    word,
    phrases.map((phrase) => ({
      text: phrase.words.endsWith(' of') ? `${phrase.words} (` : phrase.words,
      about: aboutPhrase(phrase),
    })),
  );
}

/** What a field of a kind is filled in with, where its words do not say so. */
function aboutPhrase({ words, kind, control }: Phrase): string {
  const column = { id: '', heading: '', kind, settings: {} };
  const { id, label } = controlOf(control ? { control } : {}, column);
  return id === 'line' || words.includes(label.toLowerCase()) ? '' : label.toLowerCase();
}

/** The formula with apostrophes where it lacks them; else headings, or functions, for its last word. */
function inFormula({ text, at }: Piece, ground: OffersGround): OutlineOffers {
  const to = at + text.length;
  const mended = withApostrophes(text, ground);
  if (mended !== null) {
    const offer = { text: mended, about: 'headings stand in apostrophes', mends: true };
    return { from: at, to, offers: [offer] };
  }
  const word = /(?<![\p{L}\p{N}_'"!.$])'?\p{L}[\p{L}\p{N} ]*$/u.exec(text)?.[0] ?? '';
  const folded = foldText(word.replace(/^'/, ''));
  const headings = [...ground.headings].filter((heading) => foldText(heading).startsWith(folded));
  if (folded !== '' && headings.length > 0) {
    const offers = headings.slice(0, MOST_OFFERED).map((heading) => ({
      text: printReference({ kind: 'heading', sheet: null, heading }),
      about: 'column',
      mends: false,
    }));
    return { from: to - word.length, to, offers };
  }
  const functions = helpAt(text, text.length, ground.locale);
  const offers = functions.offers
    .slice(0, MOST_OFFERED)
    .map(({ name }) => ({ text: `${name}(`, about: 'function', mends: false }));
  return { from: at + functions.from, to, offers };
}
