import { mapList, type ListSettings } from '../kinds';
import type { Attribute, LineDraft, LineEntry } from './line';
import {
  formulaPiece,
  plainOrQuoted,
  quoted,
  splitAt,
  trimmed,
  unquoted,
  type Piece,
} from './pieces';
import { OutlineError } from './problem';

/*
 * What a line says of a list that feeds its choices: `one of Stations!'Code', shown with 'Name',
 * narrowed by 'River'`.
 */

/** What is told by `=`, is read off a sheet, goes on down, or is computed. */
const FED = /^=|^[^("]*!['$A-Za-z]|^\$?[A-Za-z]{1,3}\$?\d+\.\.|^[A-Za-z]+\(/;

/** The source of a list where choices could stand; `null` where these are choices. */
export function readSource({ text }: Piece): string | null {
  const behind = text.trim();
  return FED.test(behind) ? bare(behind) : null;
}

export function writeSource(source: string): string {
  const piece = formulaPiece(bare(source));
  return FED.test(piece) ? ` ${piece}` : ` =${piece}`;
}

/** What a line says of its list. @throws OutlineError where it has none */
function listOf(draft: LineDraft, words: string, at: number): NonNullable<LineDraft['list']> {
  if (draft.list) return draft.list;
  throw new OutlineError({ code: 'standsAlone', text: words }, at, 1);
}

const formulaIn = ({ text }: Piece): string => bare(text);

/** A formula without its sign, and out of the brackets that hold its commas. */
function bare(text: string): string {
  const formula = text.trim().replace(/^=\s*/, '');
  return formulaPiece(formula.slice(1, -1)) === formula ? formula.slice(1, -1) : formula;
}

const listed = ({ column }: LineEntry): ListSettings | undefined => column.settings.list;
const isPlainHeading = (text: string): boolean => !/[,(){}=']/.test(text);

/** Something that is said of the source's row. */
const part = (
  words: string,
  name: 'label' | 'second' | 'where',
  also: string[] = [],
): Attribute => ({
  words,
  also,
  read: (rest, draft) => void (listOf(draft, words, rest.at)[name] = formulaIn(rest)),
  write: (entry) => {
    const said = listed(entry)?.[name];
    return said === undefined ? null : `${words} ${formulaPiece(said)}`;
  },
});

/** Something that is there or is not. */
const flag = (words: string, set: Partial<ListSettings>, also: string[] = []): Attribute => ({
  words,
  also,
  read: (rest, draft) => void Object.assign(listOf(draft, words, rest.at), set),
  write: (entry) => {
    const held = listed(entry);
    return held &&
      Object.entries(set).every(([name, value]) => held[name as keyof ListSettings] === value)
      ? words
      : null;
  },
});

/** A heading in single quotes alone, without them. */
const headingIn = (formula: string): string | undefined => /^'([^']+)'$/.exec(formula)?.[1];

export const LIST_ATTRIBUTES: readonly Attribute[] = [
  part('labelled', 'label', ['labelled with']),
  part('shown with', 'second', ['second line']),
  part('where', 'where'),
  {
    words: 'narrowed by',
    also: ['depends on'],
    read(rest, draft) {
      const list = listOf(draft, 'narrowed by', rest.at);
      const [by = { text: '', at: rest.at }, as] = splitAt(rest, ' as ');
      const formula = formulaIn(by);
      const columnId = as ? unquoted(trimmed(as).text) : (headingIn(formula) ?? formula);
      list.narrowed = [...(list.narrowed ?? []), { by: formula, columnId }];
    },
    write: (entry) => {
      const said = (listed(entry)?.narrowed ?? []).map(({ by, columnId }) => {
        const heading = entry.headingOf(columnId);
        const as = headingIn(by) === heading ? '' : ` as ${plainOrQuoted(heading, isPlainHeading)}`;
        return `narrowed by ${formulaPiece(by)}${as}`;
      });
      return said.length === 0 ? null : said.join(', ');
    },
  },
  {
    words: 'fills',
    read(rest, draft) {
      const list = listOf(draft, 'fills', rest.at);
      const [into = rest, from] = splitAt(rest, ' from ');
      const heading = unquoted(trimmed(into).text);
      const formula = from ? formulaIn(from) : `'${heading}'`;
      list.fills = [...(list.fills ?? []), { from: formula, columnId: heading }];
    },
    write: (entry) => {
      const said = (listed(entry)?.fills ?? []).map(({ from, columnId }) => {
        const heading = entry.headingOf(columnId);
        const source = headingIn(from) === heading ? '' : ` from ${formulaPiece(from)}`;
        return `fills ${plainOrQuoted(heading, isPlainHeading)}${source}`;
      });
      return said.length === 0 ? null : said.join(', ');
    },
  },
  flag('sorted', { order: 'rising' }, ['sorted up']),
  flag('sorted down', { order: 'falling' }),
  flag('newest first', { order: 'newest' }),
  flag('most used first', { order: 'used' }),
  {
    words: 'first',
    read(rest, draft) {
      const inner = { text: rest.text.replace(/^\(|\)$/g, ''), at: rest.at };
      const values = splitAt(inner, ',').map(({ text }) => unquoted(text));
      listOf(draft, 'first', rest.at).first = values.filter((each) => each !== '');
    },
    write: (entry) => {
      const { first = [] } = listed(entry) ?? {};
      return first.length === 0 ? null : `first (${first.map(quoted).join(', ')})`;
    },
  },
  flag('recently used first', { recent: true }),
  flag('letter case counts', { exact: true }),
  {
    ...flag('new ones join the list', { adds: true }),
    read(rest, draft) {
      listOf(draft, 'new ones join the list', rest.at).adds = true;
      // What joins the list is an answer of one's own first.
      draft.settings.own ??= '';
    },
  },
  flag('others are asked about', { strictness: 'ask' }),
  flag('others are noted', { strictness: 'note' }),
];

/** A list with columns told otherwise: by id, or by heading. */
export function tiedList(list: ListSettings, tie: (columnId: string) => string): ListSettings {
  const { narrowed, fills, ...rest } = mapList(list, (formula: string) => formula);
  const tied = <T extends { readonly columnId: string }>(each: T): T => ({
    ...each,
    columnId: tie(each.columnId),
  });
  return {
    ...rest,
    ...(narrowed && { narrowed: narrowed.map(tied) }),
    ...(fills && { fills: fills.map(tied) }),
  };
}
