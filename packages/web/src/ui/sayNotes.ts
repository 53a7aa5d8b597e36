import type { CellNote } from '@varn/contract';

/** What lists and rules say of what came back and was stored all the same; nothing, mostly. */
export const sayNotes = ({ notes = [] }: { readonly notes?: readonly CellNote[] }): string =>
  notes.length === 0
    ? ''
    : ` It goes against a rule: ${notes.map(({ message }) => message).join(' ')}`;
