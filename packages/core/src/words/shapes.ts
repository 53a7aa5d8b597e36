import type { Column } from '../kinds';
import { sayCountOf } from '../values';

/** What of a sheet can be changed as one, besides its cells. */
interface Shape {
  readonly name: string;
  readonly place: number;
  readonly columns: readonly Pick<Column, 'id' | 'heading' | 'kind' | 'settings'>[];
  readonly looseColumns: readonly string[];
  readonly look: object;
  readonly removed?: unknown;
}

const LOOKS: Readonly<Record<string, string>> = {
  widths: 'column widths changed',
  frozenColumns: 'frozen columns changed',
  rowLines: 'row height changed',
  totals: 'totals changed',
  marks: 'marks changed',
};

const isSame = (one: unknown, other: unknown): boolean =>
  JSON.stringify(one) === JSON.stringify(other);

/** What became of a sheet but for its cells: `column Price renamed to Deposit`, `totals changed`. */
export function sayShapeChange(before: Shape, after: Shape): string {
  if (before.removed !== after.removed) return after.removed ? 'sheet deleted' : 'sheet restored';
  if (before.name !== after.name) return `sheet renamed to ${after.name}`;
  const columns = sayColumns(before, after);
  if (columns !== null) return columns;
  const looks = Object.keys(LOOKS).filter(
    (key) => !isSame(before.look[key as never], after.look[key as never]),
  );
  const [look = ''] = looks;
  if (looks.length > 0) return looks.length === 1 ? (LOOKS[look] ?? '') : 'look changed';
  return before.place === after.place ? 'sheet changed' : 'sheet moved';
}

function sayColumns(before: Shape, after: Shape): string | null {
  const held = new Map(before.columns.map((column) => [column.id, column]));
  const kept = new Map(after.columns.map((column) => [column.id, column]));
  const added = after.columns.filter(({ id }) => !held.has(id));
  const gone = before.columns.filter(({ id }) => !kept.has(id));
  const changed = after.columns.filter(({ id, ...rest }) => {
    const { id: _, ...was } = held.get(id) ?? { id };
    return held.has(id) && !isSame(was, rest);
  });
  if (added.length > 0) return `${called(added)} inserted`;
  if (gone.length > 0) return `${called(gone)} deleted`;
  const [one] = changed;
  if (one && changed.length === 1) {
    const { heading = '' } = held.get(one.id) ?? {};
    const isRenamed = heading !== one.heading;
    return isRenamed ? `column ${heading} renamed to ${one.heading}` : `${called(changed)} changed`;
  }
  if (changed.length > 0) return `${called(changed)} changed`;
  const [order, then] = [before, after].map((shape) => shape.columns.map(({ id }) => id));
  const isMoved = !isSame(order, then) || !isSame(before.looseColumns, after.looseColumns);
  return isMoved ? 'columns moved' : null;
}

const called = (columns: readonly { readonly heading: string }[]): string =>
  columns.length === 1
    ? `column ${columns[0]?.heading ?? ''}`
    : sayCountOf(columns.length, 'column');
