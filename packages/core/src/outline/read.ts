import {
  columnIdsOf,
  isEntry,
  messageWithIds,
  type AfterSubmit,
  type Block,
  type FormDefinition,
} from '../forms';
import type { Column, Rule } from '../kinds';
import { closeGroup } from './groups';
import { LINE_KINDS } from './lineKinds';
import { OutlineError, type OutlineProblem } from './problem';
import type { OutlineGround } from './ground';
import { Reading } from './reading';
import { keptAs } from './write';

export interface OutlineReading {
  /** Absent where no line gives the form's name. */
  readonly name: string | undefined;
  readonly definition: FormDefinition;
  /** Columns that are to come with the form, and columns of the sheet with other settings. */
  readonly columns: readonly Column<string>[];
  readonly problems: readonly OutlineProblem[];
}

export const MOST_OUTLINE_LINES = 10_000;
/** A longer line is no line of an outline. */
export const LONGEST_OUTLINE_LINE = 20_000;

/** Reads plain lines as a form. What can't be read is told, and the rest is read all the same. */
export function readOutline(text: string, ground: OutlineGround): OutlineReading {
  const lines = text.split(/\r\n|\r|\n/);
  const reading = new Reading(ground);
  const [count, most] = [lines.length, MOST_OUTLINE_LINES];
  if (count > most) reading.tell({ code: 'tooManyLines', count, most }, most + 1, 0, 1);
  reading.offset = commonIndent(lines);
  for (const [n, line] of lines.slice(0, most).entries()) {
    reading.number = n + 1;
    readLine(line.slice(reading.offset), reading);
  }
  closeGroup(reading);
  return readingOf(reading);
}

function commonIndent(lines: readonly string[]): number {
  const depths = lines
    .filter((line) => line.trim() !== '')
    .map((line) => line.length - line.trimStart().length);
  return depths.reduce((least, each) => Math.min(least, each), depths[0] ?? 0);
}

function readLine(text: string, reading: Reading): void {
  const [count, most] = [text.length, LONGEST_OUTLINE_LINE];
  if (count > most) {
    reading.tell({ code: 'lineTooLong', count, most }, reading.number, 0, 1);
    return;
  }
  if (text.trim() === '') return;
  try {
    LINE_KINDS.find((kind) => kind.is(text))?.read(text, reading);
  } catch (error) {
    if (!(error instanceof OutlineError)) throw error;
    reading.fail(error);
  }
}

/** What all lines came to. */
function readingOf(reading: Reading): OutlineReading {
  const { columns, blocks, settings, name, problems } = reading;
  columns.tieLists();
  const rules = columns.readRules();
  const after = settings.after && withIds(settings.after, reading, columns.byId());
  return {
    name,
    definition: {
      blocks: blocks.map((block) => withOwnRules(block, rules)),
      ...settings,
      ...(after && { after }),
      ...reading.takeRemark(),
    },
    columns: [...columns.planned.values()].filter(({ id }) => columns.placedOn.has(id)),
    problems,
  };
}

/** A field with the rules it has on this form alone; a group has those of its first column. */
function withOwnRules(block: Block, rules: ReadonlyMap<string, readonly Rule[]>): Block {
  if (!isEntry(block)) return block;
  const own = rules.get(columnIdsOf(block)[0] ?? '');
  return own ? { ...block, rules: own } : block;
}

/** What happens after a submit, with ids for labels and headings. */
function withIds(
  after: AfterSubmit,
  { blocks }: Reading,
  columns: ReadonlyMap<string, Column>,
): AfterSubmit {
  const { keep, message } = after;
  const ids = (name: string): string[] =>
    blocks.filter((block) => isEntry(block) && keptAs(block, columns) === name).map(({ id }) => id);
  return {
    ...after,
    ...(message !== undefined && { message: messageWithIds(message, columns) }),
    ...(Array.isArray(keep) && { keep: keep.flatMap((name: string) => ids(name).slice(0, 1)) }),
  };
}
