import type { LeftRecord, ManyPreview } from '@varn/contract';
import {
  judgeChange,
  judgeWriteInSteps,
  nameOfRecord,
  sayCountOf,
  sayProblem,
  toldApartBy,
  type CellValue,
  type Column,
  type JudgedCell,
  type SheetModel,
  type Strictness,
} from '@varn/core';
import { csvHeading, csvRows } from '@varn/files';
import { Refused } from '../http/refused';
import type { SheetFacts } from '../store/catalog';
import type { Deciding } from './deciding';
import { changed, type CellsDecision, type WriteSite } from './decision';
import { groundOf } from './judging';
import { keyChangesOf, keyGround } from './keys';
import { Pieces } from './pieces';

/** Records that are told one by one. */
const MOST_TOLD = 200;
/** Lines of a file that are made at once. */
const FEW_LINES = 200;
/** The most records that are given other keys at once: each is held against all others. */
const MOST_KEYED = 50_000;

/** A record, as it was looked at, and what some of its cells are to become. */
export interface RecordToChange extends RecordSeen {
  /** By column id: what was read of what is given, and what is to be said of it. */
  readonly given: Readonly<Record<string, JudgedCell>>;
  /** As it was given. */
  readonly text: string;
}

/** Records as they were looked at, by their ids and revisions. */
export class SeenRecords {
  private readonly ids: string[] = [];
  private revisions = new Int32Array(64);

  get count(): number {
    return this.ids.length;
  }

  /** Notes the record that stands in a slot now. */
  note(model: SheetModel, slot: number): void {
    const { id, revision } = model.headOf(slot);
    if (this.ids.length === this.revisions.length) {
      const { revisions } = this;
      this.revisions = new Int32Array(revisions.length * 2);
      this.revisions.set(revisions);
    }
    this.revisions[this.ids.length] = revision;
    this.ids.push(id);
  }

  *heads(): Generator<RecordSeen, void> {
    for (const [at, id] of this.ids.entries()) yield { id, revision: this.revisions[at] ?? 0 };
  }
}

export interface RecordSeen {
  readonly id: string;
  readonly revision: number;
}

/** A record that stays as it is, and why. */
export interface Left {
  readonly id: string;
  readonly text: string;
  readonly message: string;
  readonly strictness: Strictness;
}

/** A change of many records, each by itself. */
export interface ManyToChange {
  /** How many records are gone through. */
  readonly count: number;
  /** Those that are to change, as they are come to; nothing for one that is to stay as it is. */
  readonly records: Iterable<RecordToChange | undefined>;
  /** Whether what is only asked about is meant. */
  readonly takesAsked: boolean;
  /** Whether nothing is written of it, so that records may be others by now. */
  readonly isTried?: boolean;
}

/** What becomes of one of many records: it is changed, or stays as it is. */
export type Outcome = CellsDecision | Left;

/**
 * Judges a change of many records, each as if it alone were changed in the grid, and their keys
 * among themselves. A record of which one cell is refused stays as it is. Gives what becomes of
 * each, and nothing where others may be answered.
 *
 * @throws Refused 409 where a record is not as it was looked at, unless it is only tried
 */
export function* decideMany(
  site: WriteSite,
  { count, records, takesAsked, isTried = false }: ManyToChange,
): Generator<Outcome | undefined, void> {
  const ground = groundOf(site);
  const tellingApart = toldApartBy(site.sheet.columns);
  /** Those that take a key wait until all that do are known. */
  const keyed: { of: RecordToChange; decision: CellsDecision }[] = [];
  const pieces = new Pieces();
  let gone = 0;
  for (const record of records) {
    gone += 1;
    if (pieces.isOver(record?.given)) {
      site.told?.(gone / count);
      yield;
    }
    if (!record) continue;
    const { id, revision, given, text } = record;
    const columnIds = Object.keys(given);
    const stored = site.model.has(id) ? site.model.get(id) : null;
    if (stored?.revision !== revision && !isTried) throw changedMeanwhile();
    if (!stored) continue;
    const meant = new Set(takesAsked ? columnIds : []);
    const judged = judgeChange(given, stored.cells, { ...ground, meant });
    const verdict = judged.verdicts.find(({ strictness }) => strictness !== 'note');
    if (verdict) {
      const { problem, strictness } = verdict;
      yield { id, text, message: sayProblem(problem), strictness };
    } else if (columnIds.some((columnId) => tellingApart.has(columnId))) {
      if (keyed.length >= MOST_KEYED) throw tooManyKeys();
      keyed.push({ of: record, decision: changed(stored, judged) });
    } else yield changed(stored, judged);
  }
  const changes = keyChangesOf(keyed.map(({ decision }) => decision));
  const verdicts = yield* judgeWriteInSteps(changes, keyGround(site));
  const taken = new Map(verdicts.map((each) => [each.at, each]));
  for (const [at, { of, decision }] of keyed.entries()) {
    if (pieces.isOver()) yield;
    const verdict = taken.get(at);
    if (!verdict) yield decision;
    else {
      const { id, text } = of;
      yield { id, text, message: sayProblem(verdict.problem), strictness: 'refuse' };
    }
  }
}

const isLeft = (outcome: Outcome): outcome is Left => 'message' in outcome;

/**
 * Changes many records as one write, and answers how many were changed and left.
 *
 * @throws Refused 422 with the first reason, where not one record would be changed; 400 where
 *   nothing is new
 */
export function* changeMany(site: WriteSite, many: ManyToChange): Deciding {
  let [changes, left] = [0, 0];
  let first: Left | null = null;
  for (const outcome of decideMany(site, many)) {
    if (!outcome) yield;
    else if (isLeft(outcome)) {
      left += 1;
      first ??= outcome;
    } else {
      changes += 1;
      yield outcome;
    }
  }
  if (changes > 0) return { decisions: [], answer: { changed: changes, left } };
  throw first ? nonePassed(first, left) : nothingToDo();
}

/** A site on which secret words are not asked: of what is only tried they tell nothing. */
export function withoutWords({ context, ...site }: WriteSite): WriteSite {
  const { admits: _, ...rest } = context;
  return { ...site, context: rest };
}

/** What a change of many records would come to: how many of each kind, and the first of them. */
export interface ManyTried {
  readonly changed: number;
  readonly asked: number;
  readonly refused: number;
  readonly first: readonly CellsDecision[];
  readonly left: readonly Left[];
}

/** @param previewed how many of those that would change are wanted */
export function* tryMany(
  site: WriteSite,
  many: Omit<ManyToChange, 'isTried'>,
  previewed: number,
): Generator<undefined, ManyTried> {
  let [changes, asked, refused] = [0, 0, 0];
  const first: CellsDecision[] = [];
  const left: Left[] = [];
  for (const outcome of decideMany(site, { ...many, isTried: true })) {
    if (!outcome) yield;
    else if (isLeft(outcome)) {
      if (outcome.strictness === 'ask') asked += 1;
      else refused += 1;
      if (left.length < MOST_TOLD) left.push(outcome);
    } else {
      changes += 1;
      if (first.length < previewed) first.push(outcome);
    }
  }
  return { changed: changes, asked, refused, first, left };
}

/** Some of many records are not any more as they were looked at. */
export const changedMeanwhile = (): Refused =>
  Refused.conflict(
    'changedSince',
    'Some of these records were changed just now. Look at them again.',
  );

/** What it would come to, as the API tells it. */
export function previewOf({ left, ...tried }: ManyTried, site: Looked): ManyPreview {
  const { changed: changes, asked, refused } = tried;
  const there = left.filter(({ id }) => site.model.has(id));
  return { changed: changes, asked, refused, left: there.map((each) => toldOf(each, site)) };
}

type Looked = Pick<WriteSite, 'model'> & { readonly sheet: SheetFacts };

function toldOf({ id, text, message, strictness }: Left, { model, sheet }: Looked): LeftRecord {
  const { cells } = model.get(id);
  const row = sheet.headingRow + 1 + model.positionOf(id);
  const name = nameOfRecord(cells, sheet.columns, sheet.workbook.locale);
  return { row, name, text, message, strictness };
}

/** The records that would be left as they are, as parts of a CSV file, each with why. */
export function* leftAsCsv(
  site: WriteSite,
  many: Omit<ManyToChange, 'isTried'>,
  heading: string,
): Generator<string | undefined, void> {
  const headings = ['Row', 'Record', heading, 'Why'];
  const columns = headings.map((each, n): Column => {
    return { id: String(n), heading: each, kind: n === 0 ? 'wholeNumber' : 'text', settings: {} };
  });
  const ways = { guarded: true };
  let lines: CellValue[][] = [];
  let text = csvHeading(columns, ways);
  for (const outcome of decideMany(site, { ...many, isTried: true })) {
    if (!outcome) yield;
    if (!outcome || !isLeft(outcome)) continue;
    const told = toldOf(outcome, site);
    lines.push([told.row, told.name, told.text, told.message]);
    if (lines.length < FEW_LINES) continue;
    yield text + csvRows(columns, lines, ways);
    lines = [];
    text = '';
  }
  yield text + csvRows(columns, lines, ways);
}

const nonePassed = ({ message }: Left, left: number): Refused => {
  const more = left > 1 ? ` ${sayCountOf(left - 1, 'other')} stay as they are too.` : '';
  return Refused.byReason(`No record was changed. ${message}${more}`);
};

export const nothingToDo = (): Refused =>
  Refused.badRequest(
    'nothingToDo',
    'Nothing would change. Give another value or other conditions.',
  );

const tooManyKeys = (): Refused =>
  Refused.badRequest(
    'tooMany',
    `At most ${sayCountOf(MOST_KEYED, 'record')} are changed at once in a column that tells records apart. Choose fewer.`,
  );
