import { showValue } from '../kinds';
import {
  keyColumnsOf,
  keyConflicts,
  rowOfPosition,
  type KeyChange,
  type RecordBlock,
  type SheetModel,
} from '../sheet';
import { quote, sayCount, type LocaleFacts, type Problem, type Sentences } from '../values';

declare module '../values/problem' {
  interface Problems {
    keyTaken: {
      readonly text: string;
      /** What the record that has the key is called, by its first other text. */
      readonly holder: string;
      /** The grid's row it stands in. */
      readonly row: number;
    };
  }
}

export const KEY_SENTENCES: Sentences<'keyTaken'> = {
  keyTaken: ({ text, holder, row }) =>
    `${quote(text)} is already taken${holder === '' ? '' : ` by ${holder}`}, in row ${sayCount(row)}. Give another, or correct that row.`,
};

/** The records among which a key is one record's alone. */
export interface KeyGround {
  readonly block: RecordBlock;
  readonly model: SheetModel;
  readonly locale: LocaleFacts;
}

/** A record of a write whose key is another's. */
export interface TakenKey {
  /** Which of the changes. */
  readonly at: number;
  readonly columnId: string;
  readonly problem: Problem;
}

const LONGEST_NAME = 40;

const shortened = (name: string): string =>
  name.length > LONGEST_NAME ? `${name.slice(0, LONGEST_NAME - 1)}…` : name;

/** The changes of a write that would give two records of its sheet one key, each with why. */
export function takenKeys(ground: KeyGround, changes: readonly KeyChange[]): TakenKey[] {
  const columns = keyColumnsOf(ground.block.columns);
  const [first] = columns;
  if (!first || changes.length === 0) return [];
  const index = ground.model.keyIndex(columns.map(({ id }) => id));
  return keyConflicts(index, changes).map(({ at, holderId }) => {
    const after = changes[at]?.after ?? {};
    const text = columns
      .map((column) => showValue(after[column.id] ?? null, column, ground.locale))
      .filter((each) => each !== '')
      .join(', ');
    return { at, columnId: first.id, problem: takenBy(ground, holderId, text) };
  });
}

/** What stands in the way of a key: whose it is, and where that record stands. */
export function takenBy(
  { block, model, locale }: KeyGround,
  holderId: string,
  text: string,
): Problem {
  const isStored = model.has(holderId);
  const cells = isStored ? model.get(holderId).cells : {};
  // A record is called by its first text that is not its key.
  const named = block.columns.find(({ id, settings }) => {
    return settings.key !== true && typeof cells[id] === 'string' && cells[id] !== text;
  });
  const holder = named ? showValue(cells[named.id] ?? null, named, locale) : '';
  const position = isStored ? model.positionOf(holderId) : model.count;
  return { code: 'keyTaken', text, holder: shortened(holder), row: rowOfPosition(block, position) };
}
