import type { KindId } from '../kinds';
import { KEPT_DIGITS, type DateOrder, type LocaleFacts } from '../values';
import { isClock, isWholeDate, isWholeMoment } from './textShape';

/** The share of non-blank values that must agree for a column to be of a kind. */
export const AGREEMENT = 0.95;

/** How a column of an arriving file is to be read. */
export interface ColumnGuess {
  readonly kind: KindId;
  /** Of a number: with how many decimals the most precise is written. */
  readonly decimals?: number;
  readonly decimal: '.' | ',';
  readonly dateOrder: DateOrder;
  /** Whether the dates could as well be in the other order of day and month. */
  readonly ambiguousDates: boolean;
}

/** Figures with at most one point: a number and nothing else, so no more is asked of it. */
const PLAIN_NUMBER = /^-?\d+(?:\.\d+)?$/;

/**
 * Counts, value by value, what the texts of one column could be, and guesses its kind from the
 * counts. Ids with leading zeros, long digit strings and phone numbers count as text.
 */
export class ColumnTally {
  private filled = 0;
  private whole = 0;
  private pointNumbers = 0;
  private commaNumbers = 0;
  private pointOnly = 0;
  private commaOnly = 0;
  private dmy = 0;
  private mdy = 0;
  private dmyOnly = 0;
  private mdyOnly = 0;
  private isoDates = 0;
  private times = 0;
  private momentsDmy = 0;
  private momentsMdy = 0;
  private yesNo = 0;
  /** The most decimals of its plain numbers. */
  private decimals = 0;

  /** Whether any value was not blank. */
  get isEmpty(): boolean {
    return this.filled === 0;
  }

  add(cell: string): void {
    const text = cell.trim();
    if (text === '') return;
    this.filled += 1;
    if (/^(?:yes|no|y|n|true|false)$/i.test(text)) this.yesNo += 1;
    if (!/\d/.test(text) || text.length > 40) return;
    if (PLAIN_NUMBER.test(text)) {
      this.addNumber(text);
      return;
    }
    if (/^[-+\u2212]?[\d.,'\s\u00A0\u202F]+(?:e[-+]?\d+)?$/i.test(text)) this.addNumber(text);
    if (isClock(text)) this.times += 1;
    else this.addDate(text);
  }

  private addNumber(text: string): void {
    const digits = text.replace(/\D/g, '');
    if (digits.length > KEPT_DIGITS || /^[-+\u2212]?0\d/.test(text)) return;
    if (text.startsWith('+') && digits.length > 6) return;
    const point = isNumberIn(text, '.', ',');
    const comma = isNumberIn(text, ',', '.');
    if (point || comma) this.decimals = Math.max(this.decimals, decimalsIn(text));
    if (/^[-+\u2212]?\d+$/.test(text)) this.whole += 1;
    if (point) this.pointNumbers += 1;
    if (comma) this.commaNumbers += 1;
    if (point && !comma) this.pointOnly += 1;
    if (comma && !point) this.commaOnly += 1;
  }

  private addDate(text: string): void {
    const [dmy, mdy] = [isWholeDate(text, 'dmy'), isWholeDate(text, 'mdy')];
    if (dmy) this.dmy += 1;
    if (mdy) this.mdy += 1;
    if (dmy && !mdy) this.dmyOnly += 1;
    if (mdy && !dmy) this.mdyOnly += 1;
    if (dmy && mdy && /^\d{4}|[A-Za-z]{3}/.test(text)) this.isoDates += 1;
    if (text.includes(':')) {
      if (isWholeMoment(text, 'dmy')) this.momentsDmy += 1;
      if (isWholeMoment(text, 'mdy')) this.momentsMdy += 1;
    }
  }

  guess(locale: LocaleFacts): ColumnGuess {
    const decimal =
      this.commaOnly > this.pointOnly ? ',' : this.pointOnly > 0 ? '.' : pointOf(locale);
    const numbers = decimal === ',' ? this.commaNumbers : this.pointNumbers;
    const dateOrder = this.dateOrder(locale);
    const dates = dateOrder === 'mdy' ? this.mdy : this.dmy;
    const moments = dateOrder === 'mdy' ? this.momentsMdy : this.momentsDmy;
    const agrees = (count: number): boolean => this.filled > 0 && count >= this.filled * AGREEMENT;
    const kinds: [KindId, boolean][] = [
      ['wholeNumber', agrees(this.whole) && numbers === this.whole],
      ['number', agrees(numbers)],
      ['yesNo', agrees(this.yesNo)],
      ['time', agrees(this.times)],
      ['moment', agrees(moments)],
      ['date', agrees(dates)],
    ];
    const kind = kinds.find(([, agreed]) => agreed)?.[0] ?? 'text';
    return {
      kind,
      decimal,
      dateOrder,
      ...(kind === 'number' && this.decimals <= MOST_DECIMALS && { decimals: this.decimals }),
      ambiguousDates: kind === 'date' && this.dmyOnly + this.mdyOnly === 0 && this.isoDates < dates,
    };
  }

  private dateOrder(locale: LocaleFacts): DateOrder {
    if (this.dmyOnly !== this.mdyOnly) return this.dmyOnly > this.mdyOnly ? 'dmy' : 'mdy';
    if (this.momentsDmy !== this.momentsMdy)
      return this.momentsDmy > this.momentsMdy ? 'dmy' : 'mdy';
    return locale.dateOrder === 'mdy' ? 'mdy' : 'dmy';
  }
}

/** Numbers with more are measured more finely than a table shows. */
const MOST_DECIMALS = 4;

const decimalsIn = (text: string): number => /[.,](\d+)$/.exec(text)?.[1]?.length ?? 0;

function pointOf(locale: LocaleFacts): '.' | ',' {
  return locale.decimal === ',' ? ',' : '.';
}

function isNumberIn(text: string, decimal: '.' | ',', group: '.' | ','): boolean {
  const [whole = '', fraction, ...more] = text.replace(/^[-+\u2212]/, '').split(decimal);
  if (more.length > 0 || (fraction !== undefined && !/^\d*(?:e[-+]?\d+)?$/i.test(fraction)))
    return false;
  const bare = whole.replace(/['\s\u00A0\u202F]/g, group);
  const grouped = bare.split(group);
  return grouped.length === 1
    ? /^\d*(?:e[-+]?\d+)?$/i.test(bare) && bare + (fraction ?? '') !== ''
    : /^\d{1,3}$/.test(grouped[0] ?? '') && grouped.slice(1).every((part) => /^\d{3}$/.test(part));
}
