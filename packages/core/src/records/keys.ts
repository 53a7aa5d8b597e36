import { showValue, type Column } from '../kinds';
import {
  keyColumnsOf,
  keyConflicts,
  rowOfPosition,
  type KeyChange,
  type RecordBlock,
  type SheetModel,
} from '../sheet';
import {
  quote,
  sayCount,
  type Cells,
  type LocaleFacts,
  type Problem,
  type Sentences,
} from '../values';

declare module '../values/problem' {
  interface Problems {
    keyTaken: {
      readonly text: string;
      /** What the record that has the key is called, by its first other text. */
      readonly holder: string;
      /** The grid's row it stands in. */
      readonly row: number;
      /** Said instead, where the rule has a message of its own. */
      readonly message?: string;
    };
  }
}

export const KEY_SENTENCES: Sentences<'keyTaken'> = {
  keyTaken: ({ text, holder, row, message }) =>
    message?.replaceAll('{value}', text) ??
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

/** Columns whose values together are one record's alone. */
interface Unique {
  readonly columns: readonly Column[];
  /** What is said instead of whose it is. */
  readonly message?: string;
  /** The column whose rule it is; a blank there is no double. Of the key, there is none. */
  readonly of?: string;
}

const known = new WeakMap<readonly Column[], readonly Unique[]>();

/** The key of a sheet, and what its rules say of doubles; found once for the same columns. */
function uniquesOf(columns: readonly Column[]): readonly Unique[] {
  const uniques = known.get(columns) ?? uniquesIn(columns);
  known.set(columns, uniques);
  return uniques;
}

function uniquesIn(columns: readonly Column[]): Unique[] {
  const key = keyColumnsOf(columns);
  const byRules = columns.flatMap((column) =>
    (column.settings.rules ?? []).flatMap(({ must, message }): Unique[] => {
      if (must.is !== 'unique') return [];
      const others = must.with?.map((id) => columns.find((each) => each.id === id)) ?? [];
      // What is told apart by a column that is gone is not told apart.
      const known = others.filter((each) => each !== undefined);
      if (known.length < others.length) return [];
      const said = message === undefined ? {} : { message };
      return [{ columns: [column, ...known], of: column.id, ...said }];
    }),
  );
  return key.length > 0 ? [{ columns: key }, ...byRules] : byRules;
}

/** The columns by whose values records are told apart: a change of others makes no doubles. */
export const toldApartBy = (columns: readonly Column[]): ReadonlySet<string> =>
  new Set(uniquesOf(columns).flatMap((unique) => unique.columns.map(({ id }) => id)));

/**
 * The changes of a write to leave out, so that its sheet's key and what its rules want unique are
 * one record's each, with why.
 */
export function* takenKeys(
  ground: KeyGround,
  changes: readonly KeyChange[],
): Generator<undefined, TakenKey[]> {
  const uniques = uniquesOf(ground.block.columns);
  const taken = new Map<number, TakenKey>();
  if (changes.length === 0) return [];
  // A record that is left out for one of them keeps what it had of the others.
  for (let before = -1; before < taken.size;) {
    before = taken.size;
    for (const unique of uniques) {
      const places = taken.size === 0 ? null : [...changes.keys()].filter((at) => !taken.has(at));
      const rest = places ? places.flatMap((at) => changes[at] ?? []) : changes;
      for (const { at, ...each } of yield* takenOf(unique, ground, rest)) {
        const place = places?.[at] ?? at;
        taken.set(place, { ...each, at: place });
      }
    }
    if (uniques.length < 2) break;
  }
  return [...taken.values()];
}

function* takenOf(
  { columns, message, of }: Unique,
  ground: KeyGround,
  changes: readonly KeyChange[],
): Generator<undefined, TakenKey[]> {
  const [first] = columns;
  if (!first) return [];
  const isBlank = (cells: Cells): boolean => of !== undefined && (cells[of] ?? null) === null;
  const asked =
    of === undefined
      ? changes
      : changes.map((change) =>
          change.after && isBlank(change.after) ? { ...change, after: {} } : change,
        );
  const index = ground.model.keyIndex(columns.map(({ id }) => id));
  const conflicts = yield* keyConflicts(index, asked);
  return conflicts.map(({ at, holderId }) => {
    const after = changes[at]?.after ?? {};
    const text = columns
      .map((column) => showValue(after[column.id] ?? null, column, ground.locale))
      .filter((each) => each !== '')
      .join(', ');
    return {
      at,
      columnId: first.id,
      problem: takenBy(ground, holderId, { text, columns, message }),
    };
  });
}

/** What was given that is another record's already. */
interface Given {
  readonly text: string;
  /** The columns it was given in. */
  readonly columns: readonly Column[];
  readonly message?: string | undefined;
}

/** What stands in the way of a key: whose it is, and where that record stands. */
export function takenBy(
  { block, model, locale }: KeyGround,
  holderId: string,
  { text, columns, message }: Given,
): Problem {
  const isStored = model.has(holderId);
  const cells = isStored ? model.get(holderId).cells : {};
  // A record is called by its first text that is not its key.
  const named = block.columns.find(({ id, settings }) => {
    return (
      settings.key !== true &&
      typeof cells[id] === 'string' &&
      !columns.some((each) => each.id === id)
    );
  });
  const holder = named ? showValue(cells[named.id] ?? null, named, locale) : '';
  const position = isStored ? model.positionOf(holderId) : model.count;
  return {
    code: 'keyTaken',
    text,
    holder: shortened(holder),
    row: rowOfPosition(block, position),
    ...(message !== undefined && { message }),
  };
}
