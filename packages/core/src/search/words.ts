import { foldText, kindOf, showValue, type Column, type ReadingContext } from '../kinds';
import { ToldNumbers, type Scan, type SheetModel } from '../sheet';
import { showDate, showNumber, type CellValue } from '../values';
import { readPeriod } from './period';

/** One thing that each record found must hold, in any of its columns. */
export interface Term {
  /** As it is compared: without case and accents. */
  readonly text: string;
  /** The days it names, if it names any: the first and the one past the last. */
  readonly days: readonly [from: number, to: number] | null;
}

/** Words past these are not looked for: by then few records are left, or none. */
const MOST_WORDS = 12;
/** The most words of a date: `Tue 24 Nov 2026`. */
const MOST_DATE_WORDS = 4;

/**
 * The words people look for, in any order: those in quotes belong together, and dates are read as
 * at the desk (`24 nov wyn` is a day and a name). A bare number stays a text.
 */
export function readTerms(typed: string, context: ReadingContext): Term[] {
  const all = [...typed.matchAll(/"([^"]+)"|\S+/g)].map(([whole, quoted]) => ({
    text: quoted ?? whole,
    isQuoted: quoted !== undefined,
  }));
  const words = all.slice(0, MOST_WORDS);
  const terms: Term[] = [];
  for (let at = 0; at < words.length;) {
    const taken = dateAt(words, at, context) ?? { count: 1, days: null };
    const text = foldText(
      words
        .slice(at, at + taken.count)
        .map((word) => word.text)
        .join(' '),
    );
    if (text !== '') terms.push({ text, days: taken.days });
    at += taken.count;
  }
  return terms;
}

function dateAt(
  words: readonly { readonly text: string; readonly isQuoted: boolean }[],
  at: number,
  context: ReadingContext,
): { count: number; days: readonly [number, number] } | null {
  for (let count = Math.min(MOST_DATE_WORDS, words.length - at); count > 0; count -= 1) {
    const part = words.slice(at, at + count);
    if (part.some(({ isQuoted }) => isQuoted)) continue;
    const text = part.map((word) => word.text).join(' ');
    // Figures alone are looked for as they stand: `2003` is in RW-02003.
    if (/^[\d\s]+$/.test(text)) continue;
    const period = readPeriod(text, context);
    const isDay = period?.isDay === true || (period && period.to - period.from === 1);
    // A month by its name; `mar` is looked for as a text all the same.
    if (period && (isDay || /^\p{L}{3}/u.test(text))) {
      return { count, days: [period.from, period.to] };
    }
  }
  return null;
}

const NUMBER_KINDS = new Set(['number', 'wholeNumber', 'money', 'date', 'time', 'moment']);

/** Whether no value of a column can be shown with a text in it, told by the column alone. */
function isOut(text: string, { kind, settings }: Column): boolean {
  if (!NUMBER_KINDS.has(kind) || settings.datePattern !== undefined) return false;
  return kind !== 'money' && /[^\d\s.,:/\-−+]/.test(text);
}

/** Whether nothing is said of how a column's numbers are shown. */
const isPlain = ({ settings: { key: _key, unit: _unit, ...format } }: Column): boolean =>
  Object.keys(format).length === 0;

function holdsDays(column: Column): boolean {
  const { iso } = kindOf(column);
  return iso === 'date' || iso === 'moment';
}

/** Whether a value of a column holds a term: by what is shown of it, or by the day it is. */
function holds(
  term: Term,
  column: Column,
  { locale }: ReadingContext,
): (value: CellValue) => boolean {
  const isDay = holdsDays(column);
  const { days, text } = term;
  // Plain numbers are many, and shown as they are.
  if (column.kind === 'wholeNumber' && isPlain(column)) {
    const hasFigures = /^\d{1,9}$/.test(text) ? figuresIn(text) : null;
    return (value) => {
      if (typeof value !== 'number') {
        return foldText(showValue(value, column, locale)).includes(text);
      }
      if (hasFigures && value === (value | 0) && value >= 0) return hasFigures(value);
      return showNumber(value, locale).includes(text);
    };
  }
  return (value) => {
    if (isDay && days && typeof value === 'number' && value >= days[0] && value < days[1]) {
      return true;
    }
    const shown = foldText(showValue(value, column, locale));
    if (shown.includes(text)) return true;
    // Dates shown by a pattern of one's own are found by their figures too.
    return isDay && typeof value === 'number' && showDate(Math.floor(value), locale).includes(text);
  };
}

/** Tells whether a small whole number is written with some figures in it, without writing it. */
function figuresIn(text: string): (value: number) => boolean {
  const wanted = Number(text);
  const power = 10 ** text.length;
  const least = power / 10;
  return (value) => {
    if (value === 0) return text === '0';
    for (let rest = value; rest >= least && rest > 0; rest = (rest / 10) | 0) {
      if (rest % power === wanted) return true;
    }
    return false;
  };
}

/**
 * Looks for the records that hold all terms, each in any column. It is made ready in steps, as many
 * values are tested ahead.
 */
export function* termsScan(
  terms: readonly Term[],
  columns: readonly Column[],
  model: SheetModel,
  context: ReadingContext,
): Generator<void, Scan> {
  const looks: Scan[][] = [];
  for (const term of terms) {
    /** What is known of numbers by how their columns show them: many show them alike. */
    const known = new Map<string, ToldNumbers>();
    const scans: Scan[] = [];
    for (const column of columns) {
      const mayHold = !isOut(term.text, column) || (term.days !== null && holdsDays(column));
      if (!mayHold) continue;
      const isHeld = holds(term, column, context);
      const looksLike = JSON.stringify([column.kind, column.settings]);
      const told = known.get(looksLike) ?? new ToldNumbers(isHeld);
      known.set(looksLike, told);
      scans.push(model.scan(column.id, (value) => value !== null && isHeld(value), { told }));
      yield;
    }
    looks.push(scans);
  }
  return (slots, from, count, wanted, found) => {
    found.set(wanted.subarray(0, count));
    for (const scans of looks) {
      const held = new Uint8Array(count);
      for (const scan of scans) scan(slots, from, count, found, held);
      found.set(held);
    }
  };
}
