import { MOST_BLOCKS, MOST_FIELDS, type Block, type FormDefinition } from '../forms';
import type { Column } from '../kinds';
import { LineColumns } from './columns';
import type { OutlineGround } from './ground';
import type { LineDraft } from './line';
import type { OutlineError, OutlineProblem, PieceProblem } from './problem';

/** A group whose members are still being listed. */
export interface OpenGroup {
  readonly label: string;
  readonly draft: LineDraft;
  readonly line: number;
  readonly remark: string | undefined;
  readonly kindAt: number;
  readonly members: { label: string; heading: string | undefined; line: number }[];
}

/** A form while its lines are read one by one: what they made so far, and what could not be read. */
export class Reading {
  readonly problems: OutlineProblem[] = [];
  readonly blocks: Block[] = [];
  readonly columns: LineColumns;
  /** The blocks of the form as it was. */
  readonly before: readonly Block[];
  group: OpenGroup | null = null;
  name: string | undefined;
  settings: Pick<FormDefinition, 'look' | 'entering' | 'after'> = {};
  remarks: string[] = [];
  /** The line that is read, from 1, and where in it the reading begins. */
  number = 0;
  offset = 0;
  /** The fields of the form as it was, by column. */
  private readonly fieldsBefore = new Map<string, Block[]>();
  private readonly used = new Set<string>();
  private isFull = false;

  constructor(readonly ground: OutlineGround) {
    this.columns = new LineColumns(
      ground,
      (problem, line, at) => this.tell(problem, line ?? this.number, at + this.offset, 1),
      () => this.number,
    );
    this.before = ground.previous?.blocks ?? [];
    for (const block of this.before) {
      if (block.is !== 'field') continue;
      const same = this.fieldsBefore.get(block.columnId);
      if (same) same.push(block);
      else this.fieldsBefore.set(block.columnId, [block]);
    }
  }

  /** @param at where in its line the problem stands, from 0 */
  tell(problem: PieceProblem, line: number, at: number, length: number): void {
    this.problems.push({ ...problem, line, column: at + 1, length });
  }

  fail(error: OutlineError): void {
    this.tell(error.problem, this.number, error.at + this.offset, error.length);
  }

  /** Notes that a column is on the form; tells of one that is there already. */
  place({ id, heading }: Column, length: number, line = this.number): boolean {
    const first = this.columns.placedOn.get(id);
    if (first !== undefined) {
      this.tell({ code: 'columnTwice', heading, first }, line, this.offset, length);
      return false;
    }
    if (!this.hasRoom(line)) return false;
    this.columns.placedOn.set(id, line);
    return true;
  }

  /** Whether one more part has room on the form; tells of the first line that has none. */
  hasRoom(line = this.number): boolean {
    const { placedOn } = this.columns;
    if (placedOn.size < MOST_FIELDS && this.blocks.length < MOST_BLOCKS) return true;
    if (!this.isFull) this.tell({ code: 'noRoom', most: MOST_FIELDS }, line, this.offset, 1);
    this.isFull = true;
    return false;
  }

  /** The id of a block: the one it had before, or a new one. */
  idFor(known: { readonly id: string } | undefined): string {
    const id = known && !this.used.has(known.id) ? known.id : this.ground.newId();
    this.used.add(id);
    return id;
  }

  /** Of the form as it was: the next block like this whose id is not taken. */
  likeBefore(isLike: (block: Block) => boolean): Block | undefined {
    return this.before.find((block) => isLike(block) && !this.used.has(block.id));
  }

  fieldBefore(columnId: string): Block | undefined {
    return this.fieldsBefore.get(columnId)?.find(({ id }) => !this.used.has(id));
  }

  /** The comment above a line, for the block that it makes. */
  takeRemark(): { remark?: string } {
    const { remarks } = this;
    this.remarks = [];
    return remarks.length > 0 ? { remark: remarks.join('\n') } : {};
  }
}
