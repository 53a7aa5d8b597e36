import {
  columnIdsOf,
  memberHeading,
  type FieldSettings,
  type GroupBlock,
  type Member,
} from '../forms';
import { readHeading } from './attributes';
import { unknownWord } from './draft';
import type { LineDraft } from './line';
import { splitAt, trimmed, unquoted, type Piece } from './pieces';
import type { OpenGroup, Reading } from './reading';

/** Members that the line itself gives: so many times, or one for each choice. */
export function listedMembers(label: string, draft: LineDraft, line: number): OpenGroup['members'] {
  const { shape, settings } = draft;
  const named = (each: string): OpenGroup['members'][number] => ({
    label: each,
    heading: undefined,
    line,
  });
  if (shape === 'boxes') return (settings.choices ?? []).map(named);
  return Array.from({ length: draft.times ?? 0 }, (_, n) => named(`${label} ${n + 1}`));
}

/** Reads a line under a group: one of its members. */
export function readMember(piece: Piece, group: OpenGroup, line: number): void {
  const [label = piece, ...rest] = splitAt(piece, ',');
  let heading: string | undefined;
  for (const each of rest) {
    const named = /^column\s+(.+)$/s.exec(each.text.trim())?.[1];
    if (named === undefined) throw unknownWord(trimmed(each), ['column']);
    heading = readHeading({ text: named, at: each.at });
  }
  group.members.push({ label: unquoted(label.text), heading, line });
}

/** Ends the list of a group's members, and puts the group on the form. */
export function closeGroup(reading: Reading): void {
  const { group, before } = reading;
  reading.group = null;
  if (!group) return;
  const { label, draft, line, remark } = group;
  const members = group.members.flatMap((each) => memberOf(each, group, reading) ?? []);
  const [first] = members;
  if (!first) {
    reading.tell({ code: 'membersWanted', label }, line, 0, label.length);
    return;
  }
  const known = before.find(
    (each) => each.is === 'group' && columnIdsOf(each).includes(first.columnId),
  );
  const made: GroupBlock = {
    is: 'group',
    as: draft.shape ?? 'repeated',
    ...(draft.different && { different: true }),
    id: reading.idFor(known),
    label,
    members,
    ...settingsOf(draft),
    ...(remark !== undefined && { remark }),
  };
  reading.blocks.push(made);
}

function memberOf(
  each: OpenGroup['members'][number],
  { label, draft, kindAt, line }: OpenGroup,
  reading: Reading,
): Member | null {
  const { columns, before } = reading;
  const usual = memberHeading(label, draft.shape ?? 'repeated', each.label);
  const column = columns.columnFor(columns.headingFor(each.heading, usual), draft, kindAt, line);
  if (!reading.place(column, 1, each.line)) return null;
  const known = before
    .flatMap((block) => (block.is === 'group' ? block.members : []))
    .find(({ columnId }) => columnId === column.id);
  const own = each.label === column.heading ? {} : { label: each.label };
  return { id: reading.idFor(known), columnId: column.id, ...own };
}

/** What of a draft stands on the block. */
export function settingsOf({ control, details, field, shownWhen }: LineDraft): FieldSettings & {
  shownWhen?: string;
} {
  return {
    ...field,
    ...(control !== undefined && { control }),
    ...(Object.keys(details).length > 0 && { details }),
    ...(shownWhen !== undefined && { shownWhen }),
  };
}
