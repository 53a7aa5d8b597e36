import type {
  ChangeMatches,
  MatchesDone,
  MatchesPreview,
  NewValue,
  RemoveMatches,
} from '@varn/contract';
import {
  inTheWay,
  isErrorValue,
  isOfKind,
  isTyped,
  judgeCell,
  sayCountOf,
  sayErrorValue,
  sayProblem,
  showValue,
  type CellValue,
  type JudgedCell,
  type ReadingContext,
  type SheetModel,
  type StoredColumn,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { Calculator } from '../calculation/calculator';
import { Refused } from '../http/refused';
import { Lists } from '../lists/lists';
import { ChangeLog } from '../log/changeLog';
import { SheetReader } from '../sheets/sheetReader';
import { viewPositions } from '../sheets/view';
import type { SheetFacts } from '../store/catalog';
import { SheetCache } from '../store/sheetCache';
import { Pace } from '../turns';
import { computed } from '../write/columns';
import {
  changed,
  removed,
  type RecordDecision,
  type WriteOrder,
  type WriteSite,
} from '../write/decision';
import { withComputed } from '../write/recordWriter';
import { MANY_RECORDS, WritePath, type Decided } from '../write/writePath';

/** The most records one write changes. */
const MOST_MATCHES = 50_000;
/** How many records a preview shows. */
const PREVIEWED = 10;
/** Records judged before it is asked whether others wait. */
const FEW = 50;

/** A record that is meant, as it was looked at. */
interface Match {
  readonly id: string;
  readonly revision: number;
}

/** What would become of one record's cell. */
interface Planned extends Match {
  readonly position: number;
  readonly before: CellValue;
  readonly after: CellValue;
  /** Why it can't be that; empty where it can. */
  readonly message: string;
}

interface Scene {
  readonly sheet: SheetFacts;
  readonly model: SheetModel;
}

/** Changes or removes all the records that a question finds, as one write that can be taken back. */
@Injectable()
export class MatchesWriter {
  constructor(
    private readonly reader: SheetReader,
    private readonly cache: SheetCache,
    private readonly calculator: Calculator,
    private readonly path: WritePath,
    private readonly log: ChangeLog,
    private readonly lists: Lists,
  ) {}

  /** What a change of one column would do. @throws Refused 400, 409 */
  async preview(sheetId: string, asked: NewValue): Promise<MatchesPreview> {
    const scene = await this.scene(sheetId);
    const { sheet } = scene;
    const column = columnToChange(sheet, asked.columnId);
    const planned = await this.plan(scene, column, asked);
    const refused = planned.filter(({ message }) => message !== '');
    const isOther = planned.filter(changes);
    const show = (value: CellValue): string => showValue(value, column, sheet.workbook.locale);
    // Those that would be refused are told of first: they are what is to be decided about.
    const first = [...refused.slice(0, PREVIEWED / 2), ...isOther].slice(0, PREVIEWED);
    return {
      changed: isOther.length,
      refused: refused.length,
      first: first.map(({ position, before, after, message }) => ({
        row: sheet.headingRow + 1 + position,
        before: show(before),
        after: message === '' ? show(after) : '',
        ...(message !== '' && { message }),
      })),
    };
  }

  /** Changes one column of all matches; those that are refused stay as they are. */
  async change(sheetId: string, asked: ChangeMatches, writer: Writer): Promise<MatchesDone> {
    const { writeId, view, columnId, text, count } = asked;
    const scene = await this.scene(sheetId);
    const column = columnToChange(scene.sheet, columnId);
    const isRepeat = await this.isWritten(writeId);
    const planned = isRepeat ? [] : await this.plan(scene, column, asked);
    const others = planned.filter(changes);
    const refused = planned.filter(({ message }) => message !== '').length;
    if (others.length === 0 && !isRepeat) throw nothingToDo();
    const order = {
      sheetId,
      writeId,
      writer,
      door: 'grid',
      asked: ['changeMatches', view, columnId, text, String(count)],
    };
    const answer = await this.carryOut(order, others, refused, (match, site) => {
      const stored = recordSeen(match, site);
      const { [columnId]: _, ...rest } = stored.cells;
      const cells = match.after === null ? rest : { ...rest, [columnId]: match.after };
      return changed(stored, withComputed(cells, site.sheet, site.calculation));
    });
    return { writeId, ...answer };
  }

  /** Sends all matches to the bin. @throws Refused 409 where others match by now */
  async remove(sheetId: string, asked: RemoveMatches, writer: Writer): Promise<MatchesDone> {
    const { writeId, view, count } = asked;
    const scene = await this.scene(sheetId);
    const isRepeat = await this.isWritten(writeId);
    const matches = isRepeat
      ? []
      : await matchesOf(scene, asked, await this.lists.readyIn(scene.sheet));
    if (matches.length === 0 && !isRepeat) throw nothingToDo();
    const asking = ['removeMatches', view, String(count)];
    const order = { sheetId, writeId, writer, door: 'grid', asked: asking };
    const answer = await this.carryOut(order, matches, 0, (match, site) =>
      removed(recordSeen(match, site)),
    );
    return { writeId, ...answer };
  }

  /** Decides of each match, and writes it all as one. */
  private async carryOut<M extends Match>(
    order: WriteOrder,
    matches: readonly M[],
    refused: number,
    decisionOf: (match: M, site: WriteSite) => RecordDecision,
  ): Promise<Omit<MatchesDone, 'writeId'>> {
    const decide = function* (site: WriteSite): Generator<void, Decided> {
      const decisions: RecordDecision[] = [];
      for (const match of matches) {
        if (decisions.length % FEW === FEW - 1) yield;
        decisions.push(decisionOf(match, site));
      }
      return { decisions, answer: { changed: decisions.length, refused } };
    };
    const { answer } =
      matches.length >= MANY_RECORDS
        ? await this.path.writeMany(order, decide)
        : await this.path.write(order, decide);
    return answer as Omit<MatchesDone, 'writeId'>;
  }

  /** Whether a write is a repeat, which gets the first answer whatever matches by now. */
  private isWritten(writeId: string): Promise<boolean> {
    return this.log.besideHasWrite(writeId);
  }

  /** What the column of each match would hold, in turns with other requests. */
  private async plan(scene: Scene, column: StoredColumn, asked: NewValue): Promise<Planned[]> {
    const { model } = scene;
    const matches = await matchesOf(scene, asked, await this.lists.readyIn(scene.sheet));
    const judge = await this.judgeOf(scene, column, asked.text);
    const planned: Planned[] = [];
    const pace = new Pace();
    for (const match of matches) {
      const slot = model.slotOf(match.id);
      if (slot === undefined) continue;
      const { value, doubts } = judge(slot);
      const doubt = inTheWay(doubts, true);
      planned.push({
        ...match,
        position: model.positionOfSlot(slot),
        before: model.cellOfSlot(slot, column.id),
        after: value,
        message: doubt
          ? sayProblem(doubt.problem)
          : isErrorValue(value)
            ? sayErrorValue(value)
            : '',
      });
      if (planned.length % FEW === 0) await pace.keep();
    }
    return planned;
  }

  /** What is to be stored for the record in a slot: what was typed, or what a formula gives. */
  private async judgeOf(
    { sheet, model }: Scene,
    column: StoredColumn,
    text: string,
  ): Promise<(slot: number) => JudgedCell> {
    const ground = { context: await this.lists.readyIn(sheet) };
    if (!text.trim().startsWith('=')) {
      const judged = judgeCell({ typed: text }, column, ground);
      return () => judged;
    }
    const calculation = await this.calculator.of(sheet.workbook.id);
    // A formula may read the column it is for, as it is before.
    const result = computed({ ...column, id: '' }, sheet, calculation, text, false);
    const value = calculation.trial(sheet.id, result);
    return (slot) => {
      if (!model.isTaken(slot)) return { value: null, doubts: [] };
      const given = asKept(value(slot));
      if (given === null || isErrorValue(given) || isOfKind(given, column)) {
        return judgeCell({ value: given }, column, ground);
      }
      return judgeCell({ typed: showValue(given, result, sheet.workbook.locale) }, column, ground);
    };
  }

  private async scene(sheetId: string): Promise<Scene> {
    const sheet = this.reader.facts(sheetId);
    await this.calculator.results(sheet.workbook.id, sheetId);
    return { sheet, model: await this.cache.model(sheetId) };
  }
}

/** A number as cells keep it, with 15 digits: 8.14 and not 8.139999999999999. */
const asKept = (value: CellValue): CellValue =>
  typeof value === 'number' ? Number(value.toPrecision(15)) : value;

const changes = ({ before, after, message }: Planned): boolean =>
  message === '' && JSON.stringify(before) !== JSON.stringify(after);

/** The records a question finds now. @throws Refused 409 where these are not as many as were seen */
async function matchesOf(
  { sheet, model }: Scene,
  { view, count }: { readonly view: string; readonly count: number },
  context: ReadingContext,
): Promise<Match[]> {
  const positions = await viewPositions(sheet, model, view, context);
  if (positions.length !== count) {
    throw Refused.conflict(
      'countChanged',
      `There are ${sayCountOf(positions.length, 'match', 'matches')} now, not ${count}. Look at them again.`,
    );
  }
  if (count > MOST_MATCHES) {
    throw Refused.badRequest(
      'tooMany',
      `count: at most ${sayCountOf(MOST_MATCHES, 'record')} are changed at once. Add a condition.`,
    );
  }
  return [...positions].map((position) => model.headOf(model.slotAt(position)));
}

/** A match as it stands inside the transaction. @throws Refused 409 where it was changed since */
function recordSeen({ id, revision }: Match, { model }: WriteSite) {
  const stored = model.has(id) ? model.get(id) : null;
  if (stored?.revision === revision) return stored;
  throw Refused.conflict(
    'changedSince',
    'Some of these records were changed just now. Look at them again.',
  );
}

function columnToChange({ columnsById }: SheetFacts, columnId: string): StoredColumn {
  const column = columnsById.get(columnId);
  if (!column) throw Refused.notFound('column in this sheet');
  if (isTyped(column) && column.kind !== 'file') return column;
  throw Refused.badRequest(
    'notTyped',
    `columnId: ${column.heading} is filled in by Varn or computed. Choose a column that people type.`,
  );
}

const nothingToDo = (): Refused =>
  Refused.badRequest(
    'nothingToDo',
    'Nothing would change. Give another value or other conditions.',
  );
