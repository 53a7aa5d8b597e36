import { read, refuse, quote, type Sentences } from '../values';
import type { Kind } from './kind';
import { showPlain } from './showPlain';

declare module '../values/problem' {
  interface Problems {
    notYesNo: { readonly text: string };
  }
}

export const YES_NO_SENTENCES: Sentences<'notYesNo'> = {
  notYesNo: ({ text }) => `${quote(text)} is neither yes nor no. Choose one.`,
};

const YES = new Set(['yes', 'y', 'true']);
const NO = new Set(['no', 'n', 'false']);

export const yesNo: Kind = {
  id: 'yesNo',
  label: 'Yes/no',
  align: 'start',
  filledBy: 'people',
  typing: 'yesNo',
  holds: 'boolean',
  usualLength: 5,
  read(typed) {
    const word = typed.trim().toLowerCase();
    if (word === '') return read(null);
    if (YES.has(word)) return read(true);
    return NO.has(word) ? read(false) : refuse({ code: 'notYesNo', text: typed.trim() });
  },
  show: showPlain,
};
