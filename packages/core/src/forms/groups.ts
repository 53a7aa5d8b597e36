import type { Column } from '../kinds';
import type { FieldBlock, GroupBlock } from './definition';
import { memberHeading } from './headings';

/** What holds of boxes as it does of one field. */
function shared(block: FieldBlock | GroupBlock) {
  const { hint, required, requiredWhen, shownWhen, remark, beside, width } = block;
  return {
    ...(hint !== undefined && { hint }),
    ...(required && { required }),
    ...(requiredWhen !== undefined && { requiredWhen }),
    ...(shownWhen !== undefined && { shownWhen }),
    ...(remark !== undefined && { remark }),
    ...(beside && { beside }),
    ...(width !== undefined && { width }),
  };
}

/**
 * A field of several choices as boxes: a yes/no column for each choice instead of one cell for all.
 *
 * @param newId gives ids for the columns and their members
 */
export function storedApart(
  block: FieldBlock,
  { heading, settings }: Column,
  newId: () => string,
): { block: GroupBlock; columns: Column<never>[] } {
  const label = block.label ?? heading;
  const made = (settings.choices ?? []).map((choice) => ({
    member: { id: newId(), columnId: newId(), label: choice },
    heading: memberHeading(label, 'boxes', choice),
  }));
  return {
    block: {
      is: 'group',
      as: 'boxes',
      id: block.id,
      label,
      members: made.map(({ member }) => member),
      ...shared(block),
    },
    columns: made.map(({ member, heading: name }) => ({
      id: member.columnId,
      heading: name,
      kind: 'yesNo',
      settings: {},
    })),
  };
}

/** Boxes as one field of several choices: one cell for all instead of a column for each. */
export function storedTogether(
  block: GroupBlock,
  headings: ReadonlyMap<string, string>,
  columnId: string,
): { block: FieldBlock; column: Column<never> } {
  const { id, label, members } = block;
  const choices = members.map((each) => each.label ?? headings.get(each.columnId) ?? '');
  return {
    block: { is: 'field', id, columnId, ...shared(block) },
    column: { id: columnId, heading: label, kind: 'severalChoices', settings: { choices } },
  };
}
