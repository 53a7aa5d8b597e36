import {
  bareFormula,
  columnIdsOf,
  isEntry,
  isSame,
  memberHeading,
  MOST_BLOCKS,
  MOST_FIELDS,
  proposedHeading,
  messageWithIds,
  type AfterSubmit,
  type Block,
  type FieldSettings,
  type FormDefinition,
  type GroupBlock,
  type Member,
} from '../forms';
import { foldText, kindOf, type Column } from '../kinds';
import { readHeading } from './attributes';
import { readDraft, unknownWord } from './draft';
import type { LineDraft } from './line';
import { isQuoted, splitAt, trimmed, unquoted, type Piece } from './pieces';
import { phraseOf } from './phrases';
import { BLOCK_WORDS, readPlainBlock, type BlockWord } from './plainBlocks';
import { OutlineError, type OutlineProblem, type PieceProblem } from './problem';
import { readAfter, readEntering, readLook } from './settings';
import { keptAs } from './write';

/** What an outline is read against. */
export interface OutlineGround {
  /** The sheet's columns: a line that names one is about it. */
  readonly columns: readonly Column<string>[];
  /** Columns that are to come with the form, and are in no sheet yet. */
  readonly planned?: readonly Column<string>[];
  /** The form as it was, so that what is the same keeps its id. */
  readonly previous?: FormDefinition;
  readonly newId: () => string;
}

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
const MOST_REPEATED = 100;

/** Reads plain lines as a form. What can't be read is told, and the rest is read all the same. */
export function readOutline(text: string, ground: OutlineGround): OutlineReading {
  const lines = text.split(/\r\n|\r|\n/);
  const reader = new OutlineReader(ground);
  if (lines.length > MOST_OUTLINE_LINES) {
    const problem = {
      code: 'tooManyLines',
      count: lines.length,
      most: MOST_OUTLINE_LINES,
    } as const;
    reader.tell(problem, MOST_OUTLINE_LINES + 1, 0, 1);
  }
  const indent = commonIndent(lines);
  lines
    .slice(0, MOST_OUTLINE_LINES)
    .forEach((line, n) => reader.line(line.slice(indent), n + 1, indent));
  return reader.end();
}

function commonIndent(lines: readonly string[]): number {
  const depths = lines
    .filter((line) => line.trim() !== '')
    .map((line) => line.length - line.trimStart().length);
  return depths.reduce((least, each) => Math.min(least, each), depths[0] ?? 0);
}

/** A group whose members are still being listed. */
interface OpenGroup {
  readonly label: string;
  readonly draft: LineDraft;
  readonly line: number;
  readonly remark: string | undefined;
  readonly kindAt: number;
  readonly members: { label: string; heading: string | undefined; line: number }[];
}

class OutlineReader {
  private readonly problems: OutlineProblem[] = [];
  private readonly blocks: Block[] = [];
  private readonly planned = new Map<string, Column<string>>();
  /** The line a column is first placed on, by its id. */
  private readonly placedOn = new Map<string, number>();
  private readonly byHeading = new Map<string, Column<string>>();
  private readonly byFolded = new Map<string, Column<string>>();
  private readonly ofSheet: ReadonlySet<string>;
  private readonly before: readonly Block[];
  /** The fields of the form as it was, by column. */
  private readonly fieldsBefore: ReadonlyMap<string, readonly Block[]>;
  private readonly used = new Set<string>();
  private remarks: string[] = [];
  private group: OpenGroup | null = null;
  private name: string | undefined;
  private settings: Pick<FormDefinition, 'look' | 'entering' | 'after'> = {};
  private offset = 0;
  private number = 0;
  private isFull = false;

  constructor(private readonly ground: OutlineGround) {
    for (const column of [...ground.columns, ...(ground.planned ?? [])]) this.know(column);
    this.ofSheet = new Set(ground.columns.map(({ id }) => id));
    this.before = ground.previous?.blocks ?? [];
    const fields = new Map<string, Block[]>();
    for (const block of this.before) {
      if (block.is !== 'field') continue;
      const same = fields.get(block.columnId);
      if (same) same.push(block);
      else fields.set(block.columnId, [block]);
    }
    this.fieldsBefore = fields;
  }

  /** @param at where in its line the problem stands, from 0 */
  tell(problem: PieceProblem, line: number, at: number, length: number): void {
    this.problems.push({ ...problem, line, column: at + 1, length });
  }

  line(text: string, number: number, offset: number): void {
    this.number = number;
    this.offset = offset;
    if (text.length > LONGEST_OUTLINE_LINE) {
      const problem = {
        code: 'lineTooLong',
        count: text.length,
        most: LONGEST_OUTLINE_LINE,
      } as const;
      this.tell(problem, number, 0, 1);
      return;
    }
    try {
      this.read(text);
    } catch (error) {
      if (!(error instanceof OutlineError)) throw error;
      this.fail(error);
    }
  }

  end(): OutlineReading {
    this.closeGroup();
    const columns = [...this.byHeading.values(), ...this.planned.values()];
    const byId = new Map(columns.map((column) => [column.id, column]));
    const after = this.settings.after && this.withIds(this.settings.after, byId);
    const remark = this.takeRemark();
    return {
      name: this.name,
      definition: {
        blocks: this.blocks,
        ...this.settings,
        ...(after && { after }),
        ...(remark !== undefined && { remark }),
      },
      columns: [...this.planned.values()].filter(({ id }) => this.placedOn.has(id)),
      problems: this.problems,
    };
  }

  private fail(error: OutlineError): void {
    this.tell(error.problem, this.number, error.at + this.offset, error.length);
  }

  private read(whole: string): void {
    const text = whole.trimEnd();
    if (text === '') return;
    const comment = /^\s*\/\/ ?(.*)$/s.exec(whole);
    if (comment) {
      this.closeGroup();
      this.remarks.push(comment[1] ?? '');
      return;
    }
    if (/^\s/.test(text)) {
      this.readIndented(text);
      return;
    }
    this.closeGroup();
    const other = /^(#+|>|-{3,}|={3,})\s*(.*)$/.exec(text);
    if (other) {
      const [, sign = '', rest = ''] = other;
      const word = sign.startsWith('#') ? 'heading' : sign === '>' ? 'note' : 'divider';
      this.addPlain(word, { text: rest, at: text.length - rest.length });
      return;
    }
    const { label, rest } = partLabel(text);
    const word = BLOCK_WORDS.find((each) => each === label.trim());
    if (word) this.readBlock(word, rest ?? { text: '', at: text.length });
    else this.readField(label, rest ?? this.knownAs(label) ?? { text: '', at: text.length });
  }

  private readBlock(word: BlockWord, rest: Piece): void {
    const behind = trimmed(rest);
    switch (word) {
      case 'form':
        this.name = unquoted(behind.text);
        break;
      case 'look':
        this.settings = { ...this.settings, look: readLook(behind) };
        break;
      case 'entering':
        this.settings = { ...this.settings, entering: readEntering(behind) };
        break;
      case 'after':
        this.settings = { ...this.settings, after: readAfter(behind) };
        break;
      default:
        this.addPlain(word, behind);
    }
  }

  private addPlain(word: BlockWord, rest: Piece): void {
    if (!this.hasRoom()) return;
    const remark = this.takeRemark();
    const made = readPlainBlock(word, rest, '');
    const known = this.before.find((each) => each.is === made.is && !this.used.has(each.id));
    this.blocks.push({
      ...made,
      id: this.takeId(known?.id),
      ...(remark !== undefined && { remark }),
    });
  }

  /** A label alone that names a column is about that column, whatever it holds. */
  private knownAs(label: string): Piece | null {
    const heading = unquoted(label);
    const known = this.called(heading);
    return known ? { text: phraseOf(known, undefined), at: 0 } : null;
  }

  /** A line under a group is one of its members, under a note one more line of it. */
  private readIndented(text: string): void {
    const piece = trimmed({ text, at: 0 });
    const last = this.blocks.at(-1);
    if (this.group) {
      const [label = piece, ...rest] = splitAt(piece, ',');
      let heading: string | undefined;
      for (const each of rest) {
        const named = /^column\s+(.+)$/s.exec(each.text.trim())?.[1];
        if (named === undefined) throw unknownWord(trimmed(each), ['column']);
        heading = readHeading({ text: named, at: each.at });
      }
      this.group.members.push({ label: unquoted(label.text), heading, line: this.number });
    } else if (last?.is === 'note') {
      const more = last.text === '' ? piece.text : `${last.text}\n${piece.text}`;
      this.blocks[this.blocks.length - 1] = { ...last, text: more };
    } else {
      const problem = { code: 'standsAlone', text: piece.text } as const;
      throw new OutlineError(problem, piece.at, piece.text.length);
    }
  }

  private readField(labelText: string, rest: Piece): void {
    const label = unquoted(labelText);
    if (label === '') throw new OutlineError({ code: 'labelMissing' }, 0, 1);
    if (!this.hasRoom()) return;
    const remark = this.takeRemark();
    const { draft, kindAt, failures } = readDraft(rest);
    for (const failure of failures) this.fail(failure);
    if (!draft) return;
    const { times = 0 } = draft;
    if (times > MOST_REPEATED || !Number.isInteger(times)) {
      const text = String(times);
      this.fail(new OutlineError({ code: 'notSoOften', text, most: MOST_REPEATED }, kindAt, 1));
      return;
    }
    if (draft.shape) {
      const members = listedMembers(label, draft, this.number);
      this.group = { label, draft, line: this.number, remark, kindAt, members };
      return;
    }
    const column = this.columnFor(this.headingFor(draft.heading, label), draft, kindAt);
    if (!this.place(column, 0, labelText.length)) return;
    const known = this.fieldsBefore.get(column.id)?.find(({ id }) => !this.used.has(id));
    this.blocks.push({
      is: 'field',
      id: this.takeId(known?.id),
      columnId: column.id,
      ...(label !== column.heading && { label }),
      ...settingsOf(draft),
      ...(remark !== undefined && { remark }),
    });
  }

  private closeGroup(): void {
    const { group } = this;
    this.group = null;
    if (!group) return;
    const { label, draft, line, remark, kindAt } = group;
    const as = draft.shape ?? 'repeated';
    const members: Member[] = [];
    for (const each of group.members) {
      const heading = this.headingFor(each.heading, memberHeading(label, as, each.label));
      const column = this.columnFor(heading, draft, kindAt, line);
      if (!this.place(column, 0, 1, each.line)) continue;
      const known = this.before
        .flatMap((block) => (block.is === 'group' ? block.members : []))
        .find(({ columnId }) => columnId === column.id);
      const own = each.label === column.heading ? {} : { label: each.label };
      members.push({ id: this.takeId(known?.id), columnId: column.id, ...own });
    }
    const [first] = members;
    if (!first) {
      this.tell({ code: 'membersWanted', label }, line, 0, label.length);
      return;
    }
    const known = this.before.find(
      (each) => each.is === 'group' && columnIdsOf(each).includes(first.columnId),
    );
    const made: GroupBlock = {
      is: 'group',
      as,
      id: this.takeId(known?.id),
      label,
      members,
      ...settingsOf(draft),
      ...(remark !== undefined && { remark }),
    };
    this.blocks.push(made);
  }

  /**
   * What the column of a line is called: what it says, else what the label names, else a short
   * name made of it that no other column has.
   */
  private headingFor(said: string | undefined, label: string): string {
    if (said !== undefined) return said;
    const short = proposedHeading(label);
    if (short === label || this.called(label)) return label;
    for (let n = 1; ; n += 1) {
      const heading = n === 1 ? short : `${short} ${n}`;
      const known = this.called(heading);
      if (!known || !(this.ofSheet.has(known.id) || this.placedOn.has(known.id))) return heading;
    }
  }

  private called(heading: string): Column<string> | undefined {
    return this.byHeading.get(heading) ?? this.byFolded.get(foldText(heading));
  }

  /** The column a line is about: one of the sheet's, one that is planned, or a new one. */
  private columnFor(
    heading: string,
    { kind, settings, formula, shape }: LineDraft,
    kindAt: number,
    line = this.number,
  ): Column<string> {
    const wanted =
      shape === 'boxes' ? { kind: 'yesNo' as const, settings: {} } : { kind, settings };
    const known = this.called(heading);
    const inSheet = known !== undefined && this.ofSheet.has(known.id);
    if (inSheet && known.kind !== wanted.kind) {
      const is = kindOf(known).label;
      const said = kindOf(wanted).label;
      const problem = { code: 'otherKind', heading: known.heading, is, said } as const;
      this.tell(problem, line, kindAt + this.offset, 1);
      return known;
    }
    const id = known?.id ?? this.ground.newId();
    const { formula: held, ...before } = known?.settings ?? {};
    const written = formula !== undefined && formula !== bareFormula(held ?? '') ? formula : held;
    const said = inSheet ? { ...before, ...wanted.settings } : wanted.settings;
    const column: Column<string> = {
      ...(inSheet ? known : { id, heading, kind: wanted.kind }),
      settings: written === undefined ? said : { ...said, formula: written },
    };
    if (!inSheet || !isSame(column.settings, known.settings)) {
      this.planned.set(id, column);
      this.know(column);
    }
    return column;
  }

  private know(column: Column<string>): void {
    this.byHeading.set(column.heading, column);
    this.byFolded.set(foldText(column.heading), column);
  }

  /** Notes that a column is on the form; tells of one that is there already. */
  private place(column: Column, at: number, length: number, line = this.number): boolean {
    const first = this.placedOn.get(column.id);
    if (first !== undefined) {
      const problem = { code: 'columnTwice', heading: column.heading, first } as const;
      this.tell(problem, line, at + this.offset, length);
      return false;
    }
    if (!this.hasRoom(line)) return false;
    this.placedOn.set(column.id, line);
    return true;
  }

  /** Whether one more part has room on the form; tells of the first line that has none. */
  private hasRoom(line = this.number): boolean {
    if (this.placedOn.size < MOST_FIELDS && this.blocks.length < MOST_BLOCKS) return true;
    if (!this.isFull) this.tell({ code: 'noRoom', most: MOST_FIELDS }, line, this.offset, 1);
    this.isFull = true;
    return false;
  }

  private takeId(known: string | undefined): string {
    const id = known !== undefined && !this.used.has(known) ? known : this.ground.newId();
    this.used.add(id);
    return id;
  }

  private takeRemark(): string | undefined {
    const remark = this.remarks.length > 0 ? this.remarks.join('\n') : undefined;
    this.remarks = [];
    return remark;
  }

  /** What happens after a submit, with ids for labels and headings. */
  private withIds(after: AfterSubmit, columns: ReadonlyMap<string, Column>): AfterSubmit {
    const { keep, message } = after;
    const ids = (name: string): string[] =>
      this.blocks
        .filter((block) => isEntry(block) && keptAs(block, columns) === name)
        .map(({ id }) => id);
    return {
      ...after,
      ...(message !== undefined && { message: messageWithIds(message, columns) }),
      ...(Array.isArray(keep) && { keep: keep.flatMap((name: string) => ids(name).slice(0, 1)) }),
    };
  }
}

/** What of a draft stands on the block. */
function settingsOf({ control, details, field, shownWhen }: LineDraft): FieldSettings & {
  shownWhen?: string;
} {
  return {
    ...field,
    ...(control !== undefined && { control }),
    ...(Object.keys(details).length > 0 && { details }),
    ...(shownWhen !== undefined && { shownWhen }),
  };
}

/** Members that the line itself gives: so many times, or one for each choice. */
function listedMembers(label: string, draft: LineDraft, line: number): OpenGroup['members'] {
  const { shape, settings } = draft;
  const named = (each: string): OpenGroup['members'][number] => ({
    label: each,
    heading: undefined,
    line,
  });
  if (shape === 'boxes') return (settings.choices ?? []).map(named);
  return Array.from({ length: draft.times ?? 0 }, (_, n) => named(`${label} ${n + 1}`));
}

/** The label a line begins with, and what stands behind its colon. */
function partLabel(text: string): { label: string; rest: Piece | null } {
  const whole = { text, at: 0 };
  const [first] = splitAt(whole, ':');
  const end = first && first.text.length < text.length ? first.text.length : text.indexOf(':');
  if (end < 0 || isQuoted(text)) return { label: text, rest: null };
  return { label: text.slice(0, end), rest: { text: text.slice(end + 1), at: end + 1 } };
}
