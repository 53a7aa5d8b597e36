import {
  isEntry,
  labelOfBlock,
  memberHeading,
  proposedHeading,
  messageWithHeadings,
  type Block,
  type ColumnsById,
  type FieldBlock,
  type FormDefinition,
  type GroupBlock,
  type Member,
} from '../forms';
import type { Column } from '../kinds';
import { ATTRIBUTES } from './attributes';
import { plainOrQuoted, quoted } from './pieces';
import { phraseOf } from './phrases';
import { BLOCK_WORDS, writePlainBlock } from './plainBlocks';
import { writeAfter, writeEntering, writeLook } from './settings';
import { writeTail } from './tails';
import type { LineEntry } from './line';

/** A form as an outline can hold it: all but the bytes of files. */
export interface OutlinedForm {
  readonly name: string;
  readonly definition: FormDefinition;
  /** The columns its fields write. */
  readonly columns: readonly Column<string>[];
}

const isBlockWord = (text: string): boolean =>
  BLOCK_WORDS.some((each) => each === text) || text.startsWith('//');

const isPlainLabel = (text: string): boolean =>
  !text.includes(':') && !isBlockWord(text) && !/^(?:#|>|-{3})/.test(text);

/** A label as its line begins: in quotes where it would be taken for something else. */
export const writeLabel = (label: string): string => plainOrQuoted(label, isPlainLabel);

const isPlainMember = (text: string): boolean => !text.startsWith('//') && !/[,(){}]/.test(text);

/** A form as plain lines: the same form always gives the same lines. */
export function writeOutline({ name, definition, columns }: OutlinedForm): string {
  const byId: TextColumns = new Map(columns.map((column) => [column.id, column]));
  const { look = {}, entering = {}, after = {}, blocks, remark } = definition;
  const isSet = (settings: object): boolean => Object.keys(settings).length > 0;
  const lines = [
    ...(name === '' ? [] : [`form: ${plainOrQuoted(name, () => true)}`]),
    ...(isSet(look) ? [writeLook(look)] : []),
    ...(isSet(entering) ? [writeEntering(entering)] : []),
    ...(isSet(after) ? [writeAfter(labelled(definition, byId))] : []),
  ];
  if (lines.length > 0 && blocks.length > 0) lines.push('');
  for (const block of blocks) {
    lines.push(...remarkLines(block.remark), ...blockLines(block, byId));
  }
  lines.push(...remarkLines(remark));
  return lines.length > 0 ? `${lines.join('\n')}\n` : '';
}

/** What happens after a submit, with labels for ids. */
function labelled({ after = {}, blocks }: FormDefinition, columns: ColumnsById): typeof after {
  const { keep, message } = after;
  const byId = new Map(blocks.map((block) => [block.id, block]));
  return {
    ...after,
    ...(message !== undefined && { message: messageWithHeadings(message, columns) }),
    ...(Array.isArray(keep) && {
      keep: keep.flatMap((id: string) => {
        const block = byId.get(id);
        return block ? [keptAs(block, columns)] : [];
      }),
    }),
  };
}

/** What a field is called where it is told apart from all others of its form. */
export function keptAs(block: Block, columns: ColumnsById): string {
  return block.is === 'field'
    ? (columns.get(block.columnId)?.heading ?? '')
    : labelOfBlock(block, columns);
}

const remarkLines = (remark: string | undefined): string[] =>
  remark === undefined ? [] : remark.split('\n').map((line) => (line === '' ? '//' : `// ${line}`));

type TextColumns = ReadonlyMap<string, Column<string>>;

function blockLines(block: Block, columns: TextColumns): string[] {
  if (!isEntry(block)) return [writePlainBlock(block)];
  return block.is === 'field' ? fieldLine(block, columns) : groupLines(block, columns);
}

/** Whether a column is called what a line would call it that says nothing of it. */
const isUsual = (label: string, { heading }: Column): boolean =>
  heading === label && proposedHeading(label) === label;

const headingsOf =
  (columns: TextColumns): LineEntry['headingOf'] =>
  (columnId) =>
    columns.get(columnId)?.heading ?? columnId;

function fieldLine(block: FieldBlock, columns: TextColumns): string[] {
  const column = columns.get(block.columnId);
  if (!column) return [];
  const label = block.label ?? column.heading;
  const heading = isUsual(label, column) ? undefined : column.heading;
  const phrase = phraseOf(column, block.control);
  const headingOf = headingsOf(columns);
  return [
    `${writeLabel(label)}: ${entryText(phrase, block, column, { heading, headingOf, columns })}`,
  ];
}

function groupLines(block: GroupBlock, columns: TextColumns): string[] {
  const members = block.members.flatMap((member) => {
    const column = columns.get(member.columnId);
    return column ? [{ member, column }] : [];
  });
  const [first] = members;
  if (!first) return [];
  const { as } = block;
  const phrases = {
    statements: 'statements of',
    boxes: 'ticks',
    repeated: phraseOf(first.column, block.control),
  };
  const isCounted =
    as === 'repeated' &&
    members.every(({ member, column }, n) => {
      return member.label === undefined && isUsual(`${block.label} ${n + 1}`, column);
    });
  const times = isCounted ? members.length : undefined;
  const rest = { shape: as, times, headingOf: headingsOf(columns), columns };
  const text = entryText(phrases[as], block, first.column, rest);
  const own = isCounted ? [] : members.map((each) => memberLine(each, block));
  return [`${writeLabel(block.label)}: ${text}`, ...own];
}

function memberLine(
  { member, column }: { member: Member; column: Column },
  block: GroupBlock,
): string {
  const label = member.label ?? column.heading;
  const usual = memberHeading(block.label, block.as, label);
  const name = isUsual(usual, column) ? '' : `, column ${quoted(column.heading)}`;
  return `  ${plainOrQuoted(label, isPlainMember)}${name}`;
}

function entryText(
  phrase: string,
  block: FieldBlock | GroupBlock,
  column: Column<string>,
  {
    headingOf,
    columns,
    heading,
    shape,
    times,
  }: Pick<LineEntry, 'headingOf' | 'columns'> &
    Partial<Pick<LineEntry, 'heading' | 'shape' | 'times'>>,
): string {
  const entry: LineEntry = {
    column,
    headingOf,
    columns,
    control: block.control,
    details: block.details ?? {},
    field: block,
    limits: block.limits ?? {},
    start: block.start,
    shownWhen: block.shownWhen,
    heading,
    shape,
    times,
    different: block.is === 'group' && block.different === true,
  };
  const tail = shape === 'boxes' ? '' : writeTail(entry);
  const attributes = ATTRIBUTES.flatMap((each) => each.write(entry) ?? []);
  return [phrase + tail, ...attributes].join(', ');
}
