import { read, refuse, quote, type Sentences } from '../values';
import type { Kind } from './kind';
import { showPlain } from './showPlain';

declare module '../values/problem' {
  interface Problems {
    notAFile: { readonly text: string };
  }
}

export const FILE_SENTENCES: Sentences<'notAFile'> = {
  notAFile: ({ text }) => `${quote(text)} is not a file of this form. Choose the file again.`,
};

/** A file's cell: the id it is stored under, then the name it came with. */
const FILE = /^([\w-]{20})\/([^/\p{Cc}]{1,200})$/u;

/** What a cell holds of a stored file. */
export const fileText = (id: string, name: string): string => `${id}/${name}`;

/** The id of a cell's file; `null` where the cell holds a name alone, as one that was brought in. */
export const fileIdOf = (text: string): string | null => FILE.exec(text)?.[1] ?? null;

export const fileNameOf = (text: string): string => FILE.exec(text)?.[2] ?? text;

/** A file that Varn stores; the cell names it. Nobody types one: it is chosen. */
export const file: Kind = {
  id: 'file',
  label: 'File',
  align: 'start',
  filledBy: 'people',
  typing: 'none',
  holds: 'string',
  usualLength: 14,
  read(typed) {
    if (typed === '') return read(null);
    return FILE.test(typed) ? read(typed) : refuse({ code: 'notAFile', text: typed });
  },
  show: showPlain,
  format: (value, column, locale) => fileNameOf(showPlain(value, column, locale)),
};
