import {
  columnIdsOf,
  isEntry,
  memberHeading,
  storedApart,
  storedTogether,
  type Block,
  type Column,
  type FieldBlock,
  type FormDefinition,
  type GroupBlock,
  type Member,
} from '@varn/core';

/** A form as it is being laid out: its definition, and the columns that come or change with it. */
export interface Layout {
  readonly definition: FormDefinition;
  readonly columns: readonly Column<string>[];
}

/** Where a block is put: before or after another, or on its row. `null` stands for the end. */
export interface PagePlace {
  readonly blockId: string | null;
  readonly side: 'before' | 'after' | 'beside';
}

const withBlocks = (layout: Layout, blocks: readonly Block[]): Layout => ({
  ...layout,
  definition: { ...layout.definition, blocks },
});

/** Puts blocks in at a spot, and what they plan with them. */
export function putIn(layout: Layout, blocks: readonly Block[], spot: PagePlace): Layout {
  const held = layout.definition.blocks;
  const at = held.findIndex(({ id }) => id === spot.blockId);
  const place = at < 0 ? held.length : spot.side === 'before' ? at : at + 1;
  const made = blocks.map((block, n) => {
    if (!isEntry(block) || n > 0) return block;
    const { beside: _beside, ...alone } = block;
    return spot.side === 'beside' ? { ...alone, beside: true as const } : { ...block };
  });
  return withBlocks(layout, held.toSpliced(place, 0, ...made));
}

/** Changes one block. */
export function change(layout: Layout, blockId: string, to: (block: Block) => Block): Layout {
  const blocks = layout.definition.blocks.map((block) =>
    block.id === blockId ? to(block) : block,
  );
  return withBlocks(layout, blocks);
}

/** Takes a block off the page. A column that is in no sheet yet goes with it; data never does. */
export function takeOff(layout: Layout, blockId: string, inSheet: ReadonlySet<string>): Layout {
  const { blocks } = layout.definition;
  const gone = blocks.find(({ id }) => id === blockId);
  if (!gone) return layout;
  const rest = blocks.filter(({ id }) => id !== blockId);
  const used = new Set(rest.flatMap(columnIdsOf));
  const dropped = new Set(columnIdsOf(gone).filter((id) => !inSheet.has(id) && !used.has(id)));
  return {
    definition: { ...layout.definition, blocks: rest },
    columns: layout.columns.filter(({ id }) => !dropped.has(id)),
  };
}

/** Moves a block to a spot. */
export function move(layout: Layout, blockId: string, spot: PagePlace): Layout {
  if (spot.blockId === blockId) return layout;
  const { blocks } = layout.definition;
  const block = blocks.find(({ id }) => id === blockId);
  if (!block) return layout;
  const without = withBlocks(
    layout,
    blocks.filter(({ id }) => id !== blockId),
  );
  return putIn(without, [bare(block)], spot);
}

function bare(block: Block): Block {
  if (!isEntry(block)) return block;
  const { beside: _beside, ...rest } = block;
  return rest;
}

/** Moves a block one place up or down the page. */
export function step(layout: Layout, blockId: string, by: 1 | -1): Layout {
  const { blocks } = layout.definition;
  const at = blocks.findIndex(({ id }) => id === blockId);
  const block = blocks[at];
  const to = at + by;
  if (!block || to < 0 || to >= blocks.length) return layout;
  return withBlocks(layout, blocks.toSpliced(at, 1).toSpliced(to, 0, block));
}

/** Puts a block on the row of the one before it, or on a row of its own. */
export function setBeside(layout: Layout, blockId: string, isBeside: boolean): Layout {
  return change(layout, blockId, (block) => {
    const alone = bare(block);
    return isBeside && isEntry(alone) ? { ...alone, beside: true } : alone;
  });
}

/** Changes a column: one that is planned, or one of the sheet, which is planned with it from then on. */
export function changeColumn(layout: Layout, column: Column<string>): Layout {
  const isPlanned = layout.columns.some(({ id }) => id === column.id);
  const columns = isPlanned
    ? layout.columns.map((each) => (each.id === column.id ? column : each))
    : [...layout.columns, column];
  return { ...layout, columns };
}

/** A field for a column of the sheet that is not on the page yet. */
export const fieldFor = (column: Pick<Column, 'id'>, id: string): Block => ({
  is: 'field',
  id,
  columnId: column.id,
});

/** A property that is set, or left out where it says nothing. */
export function set<T extends object, K extends keyof T>(
  of: T,
  name: K,
  value: T[K] | undefined | '' | false,
): T {
  const { [name]: _old, ...rest } = of;
  return (
    value === undefined || value === '' || value === false ? rest : { ...rest, [name]: value }
  ) as T;
}

/** Adds one more to fields that stand together: its column is like the first of them. */
export function addMember(
  layout: Layout,
  group: GroupBlock,
  label: string,
  like: Column<string>,
  ids: { readonly member: string; readonly column: string },
): Layout {
  const { formula: _formula, ...settings } = like.settings;
  const heading = memberHeading(group.label, group.as, label);
  const column: Column<string> = { ...like, id: ids.column, heading, settings };
  const member: Member = {
    id: ids.member,
    columnId: ids.column,
    ...(label !== heading && { label }),
  };
  const grown = change(layout, group.id, (block) =>
    block.is === 'group' ? { ...block, members: [...block.members, member] } : block,
  );
  return changeColumn(grown, column);
}

/** Takes one of several away. A column that is in the sheet stays there, with its data. */
export function dropMember(
  layout: Layout,
  group: GroupBlock,
  memberId: string,
  inSheet: ReadonlySet<string>,
): Layout {
  const gone = group.members.find(({ id }) => id === memberId);
  const members = group.members.filter(({ id }) => id !== memberId);
  if (!gone || members.length === 0) return layout;
  const smaller = change(layout, group.id, (block) =>
    block.is === 'group' ? { ...block, members } : block,
  );
  if (inSheet.has(gone.columnId)) return smaller;
  return { ...smaller, columns: smaller.columns.filter(({ id }) => id !== gone.columnId) };
}

/** Calls one of several otherwise. A column that is in no sheet yet is called so too. */
export function renameMember(
  layout: Layout,
  group: GroupBlock,
  memberId: string,
  label: string,
): Layout {
  const member = group.members.find(({ id }) => id === memberId);
  if (!member) return layout;
  const renamed = change(layout, group.id, (block) =>
    block.is === 'group'
      ? {
          ...block,
          members: block.members.map((each) => (each.id === memberId ? { ...each, label } : each)),
        }
      : block,
  );
  const planned = layout.columns.find(({ id }) => id === member.columnId);
  if (!planned) return renamed;
  const heading = memberHeading(group.label, group.as, label);
  return changeColumn(renamed, { ...planned, heading });
}

/** Changes every column of fields that stand together. */
export function changeMembers(
  layout: Layout,
  group: GroupBlock,
  columns: readonly Column<string>[],
  to: (column: Column<string>) => Column<string>,
): Layout {
  const ids = new Set(columnIdsOf(group));
  return columns
    .filter(({ id }) => ids.has(id))
    .reduce((held, column) => changeColumn(held, to(column)), layout);
}

/** Stores several choices in a column each, or in one cell. Their columns are in no sheet yet. */
export function storeApart(
  layout: Layout,
  field: FieldBlock,
  column: Column<string>,
  newId: () => string,
): Layout {
  const { block, columns } = storedApart(field, column, newId);
  if (columns.length === 0) return layout;
  return {
    ...change(layout, field.id, () => block),
    columns: layout.columns.flatMap((each) => (each.id === column.id ? columns : [each])),
  };
}

export function storeTogether(layout: Layout, group: GroupBlock, newId: () => string): Layout {
  const headings = new Map(layout.columns.map(({ id, heading }) => [id, heading]));
  const { block, column } = storedTogether(group, headings, newId());
  const gone = columnIdsOf(group);
  return {
    ...change(layout, group.id, () => block),
    columns: layout.columns.flatMap((each) =>
      each.id === gone[0] ? [column] : gone.includes(each.id) ? [] : [each],
    ),
  };
}
