import { read, refuse, quote, type Sentences } from '../values';
import type { Kind } from './kind';
import { showPlain } from './showPlain';

declare module '../values/problem' {
  interface Problems {
    notAFile: { readonly text: string };
    fileGone: { readonly text: string };
  }
}

export const FILE_SENTENCES: Sentences<'notAFile' | 'fileGone'> = {
  notAFile: ({ text }) => `${quote(text)} is not a file of this form. Choose the file again.`,
  fileGone: ({ text }) => `The file ${quote(text)} is not there any more. Choose it again.`,
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
  read(typed, _column, { holdsFile }) {
    if (typed === '') return read(null);
    const id = fileIdOf(typed);
    if (id === null) return refuse({ code: 'notAFile', text: typed });
    const isThere = holdsFile?.(id) ?? true;
    return isThere ? read(typed) : refuse({ code: 'fileGone', text: fileNameOf(typed) });
  },
  show: showPlain,
  format: (value, column, locale) => fileNameOf(showPlain(value, column, locale)),
};
