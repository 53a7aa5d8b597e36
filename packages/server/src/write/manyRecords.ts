import type { LeftRecord, ManyPreview } from '@varn/contract';
import {
  judgeChange,
  judgeWrite,
  nameOfRecord,
  sayCountOf,
  sayProblem,
  toldApartBy,
  type CellValue,
  type Column,
  type JudgedCell,
  type Strictness,
} from '@varn/core';
import { csvHeading, csvRows } from '@varn/files';
import { Refused } from '../http/refused';
import type { SheetFacts } from '../store/catalog';
import { Pace } from '../turns/turns';
import { changed, type CellsDecision, type WriteSite } from './decision';
import { groundOf } from './judging';
import { keyChangesOf, keyGround } from './keys';
import { Pieces } from './pieces';

/** Records that are told one by one. */
const MOST_TOLD = 200;
/** Lines written down before others may be answered. */
const FEW_LINES = 500;

/** A record, as it was looked at, and what some of its cells are to become. */
export interface RecordToChange {
  readonly id: string;
  readonly revision: number;
  /** By column id: what was read of what is given, and what is to be said of it. */
  readonly given: Readonly<Record<string, JudgedCell>>;
  /** As it was given. */
  readonly text: string;
}

/** A record that stays as it is, and why. */
export interface Left {
  readonly id: string;
  readonly text: string;
  readonly message: string;
  readonly strictness: Strictness;
}

interface ManyWays {
  /** Whether what is only asked about is meant. */
  readonly takesAsked: boolean;
  /** Whether nothing is written of it, so that records may be others by now. */
  readonly isTried?: boolean;
}

/** What becomes of many records: those that pass are changed, the others stay as they are. */
export interface ManyDecided {
  readonly decisions: readonly CellsDecision[];
  readonly left: readonly Left[];
}

/**
 * Judges a change of many records, each as if it alone were changed in the grid, and their keys
 * among themselves. A record of which one cell is refused stays as it is.
 *
 * @throws Refused 409 where a record is not as it was looked at, unless it is only tried
 */
export function* decideMany(
  site: WriteSite,
  records: readonly RecordToChange[],
  { takesAsked, isTried = false }: ManyWays,
): Generator<void, ManyDecided> {
  const ground = groundOf(site);
  const tellingApart = toldApartBy(site.sheet.columns);
  const passing: { of: RecordToChange; decision: CellsDecision }[] = [];
  const left: Left[] = [];
  let isTellingApart = false;
  const pieces = new Pieces();
  for (const [at, record] of records.entries()) {
    const { id, revision, given, text } = record;
    if (pieces.isOver(given)) {
      site.told?.(at / records.length);
      yield;
    }
    const columnIds = Object.keys(given);
    isTellingApart ||= columnIds.some((columnId) => tellingApart.has(columnId));
    const stored = site.model.has(id) ? site.model.get(id) : null;
    if (stored?.revision !== revision && !isTried) throw changedMeanwhile();
    if (!stored) continue;
    const meant = new Set(takesAsked ? columnIds : []);
    const judged = judgeChange(given, stored.cells, { ...ground, meant });
    const [verdict] = judged.verdicts.filter(({ strictness }) => strictness !== 'note');
    if (verdict) {
      const { problem, strictness } = verdict;
      left.push({ id, text, message: sayProblem(problem), strictness });
    } else passing.push({ of: record, decision: changed(stored, judged) });
  }
  if (!isTellingApart) {
    return { decisions: passing.map(({ decision }) => decision), left };
  }
  const changes = keyChangesOf(passing.map(({ decision }) => decision));
  const taken = new Map(judgeWrite(changes, keyGround(site)).map((each) => [each.at, each]));
  const decisions: CellsDecision[] = [];
  for (const [at, { of, decision }] of passing.entries()) {
    const verdict = taken.get(at);
    if (!verdict) decisions.push(decision);
    else {
      const { id, text } = of;
      left.push({ id, text, message: sayProblem(verdict.problem), strictness: 'refuse' });
    }
  }
  return { decisions, left };
}

/** Some of many records are not any more as they were looked at. */
export const changedMeanwhile = (): Refused =>
  Refused.conflict(
    'changedSince',
    'Some of these records were changed just now. Look at them again.',
  );

/** What it would come to, as the API tells it. */
export function previewOf({ decisions, left }: ManyDecided, site: Looked): ManyPreview {
  const asked = left.filter(({ strictness }) => strictness === 'ask').length;
  return {
    changed: decisions.length,
    asked,
    refused: left.length - asked,
    left: left
      .filter(({ id }) => site.model.has(id))
      .slice(0, MOST_TOLD)
      .map((each) => toldOf(each, site)),
  };
}

type Looked = Pick<WriteSite, 'model'> & { readonly sheet: SheetFacts };

function toldOf({ id, text, message, strictness }: Left, { model, sheet }: Looked): LeftRecord {
  const { cells } = model.get(id);
  const row = sheet.headingRow + 1 + model.positionOf(id);
  const name = nameOfRecord(cells, sheet.columns, sheet.workbook.locale);
  return { row, name, text, message, strictness };
}

/** The records that would be left as they are, as CSV, each with why. */
export async function leftAsCsv(left: readonly Left[], heading: string, site: Looked) {
  const headings = ['Row', 'Record', heading, 'Why'];
  const columns = headings.map((each, n): Column => {
    return { id: String(n), heading: each, kind: n === 0 ? 'wholeNumber' : 'text', settings: {} };
  });
  const ways = { guarded: true };
  const parts = [csvHeading(columns, ways)];
  const pace = new Pace();
  for (let from = 0; from < left.length; from += FEW_LINES) {
    const rows = left.slice(from, from + FEW_LINES).flatMap((each): CellValue[][] => {
      if (!site.model.has(each.id)) return [];
      const { row, name, text, message } = toldOf(each, site);
      return [[row, name, text, message]];
    });
    parts.push(csvRows(columns, rows, ways));
    await pace.keep();
  }
  return parts.join('');
}

/**
 * @throws Refused 422 with the first reason, where not one record would be changed; 400 where
 *   nothing is new
 */
export function refuseWithout({ decisions, left: [first, ...others] }: ManyDecided): void {
  if (decisions.length > 0) return;
  if (first) {
    const more =
      others.length > 0 ? ` ${sayCountOf(others.length, 'other')} stay as they are too.` : '';
    throw Refused.byReason(`No record was changed. ${first.message}${more}`);
  }
  throw Refused.badRequest(
    'nothingToDo',
    'Nothing would change. Give another value or other conditions.',
  );
}
