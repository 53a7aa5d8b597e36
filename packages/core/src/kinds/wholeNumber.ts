import { refuse, quote, type Sentences } from '../values';
import type { Kind } from './kind';
import { readMeasured } from './measured';
import { showFormatted } from './showFormatted';
import { showPlain } from './showPlain';

declare module '../values/problem' {
  interface Problems {
    notWhole: { readonly text: string };
  }
}

export const WHOLE_SENTENCES: Sentences<'notWhole'> = {
  notWhole: ({ text }) => `${quote(text)} is not a whole number. Leave out the fraction.`,
};

export const wholeNumber: Kind = {
  id: 'wholeNumber',
  label: 'Whole number',
  align: 'end',
  filledBy: 'people',
  typing: 'number',
  holds: 'number',
  usualLength: 6,
  read(typed, column, { locale }) {
    const reading = readMeasured(typed, column, locale);
    return !reading.ok || reading.value === null || Number.isInteger(reading.value)
      ? reading
      : refuse({ code: 'notWhole', text: typed.trim() });
  },
  show: showPlain,
  format: showFormatted,
};
