import type {
  ChangeMatches,
  ManyChanged,
  MatchesPreview,
  NewValue,
  RemoveMatches,
} from '@varn/contract';
import {
  Budget,
  isErrorValue,
  isOfKind,
  isTyped,
  judgeCell,
  sayCountOf,
  sayErrorValue,
  showValue,
  type CellValue,
  type ErrorValue,
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
import type { Asker } from '../turns/asker';
import { Pace } from '../turns/turns';
import { computed } from '../write/columns';
import { removed, type WriteOrder } from '../write/decision';
import {
  changedMeanwhile,
  decideMany,
  leftAsCsv,
  previewOf,
  refuseWithout,
  type RecordToChange,
  type ManyDecided,
} from '../write/manyRecords';
import { Underway } from '../write/underway';
import { WritePath, type Decide, type Decided } from '../write/writePath';

/** The most records one write changes. */
const MOST_MATCHES = 50_000;
/** How many of the records that would change a preview shows. */
const PREVIEWED = 10;
/** Records gone through before it is asked whether others wait. */
const FEW = 50;
/** How many of the longest a formula that is given to all matches may take in all. */
const MOST_EVALUATIONS = 50;

/** A record that is meant, as it was looked at. */
interface Match {
  readonly id: string;
  readonly revision: number;
}

/** What one cell is given: as it was read, and as it was typed. */
interface GivenCell {
  readonly given: JudgedCell;
  readonly text: string;
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
    private readonly underway: Underway,
  ) {}

  /** What a change of one column would do. @throws Refused 400, 409 */
  async preview(
    sheetId: string,
    asked: NewValue,
    writer: Writer,
    asker: Asker,
  ): Promise<MatchesPreview> {
    const { scene, column, decided } = await this.tried(sheetId, asked, writer, asker);
    const { sheet, model } = scene;
    const show = (value: CellValue = null): string =>
      showValue(value, column, sheet.workbook.locale);
    const there = decided.decisions.filter(({ record }) => model.has(record.id));
    return {
      ...previewOf(decided, scene),
      first: there.slice(0, PREVIEWED).map(({ record, before, after }) => ({
        row: sheet.headingRow + 1 + model.positionOf(record.id),
        before: show(before?.[column.id]),
        after: show(after[column.id]),
      })),
    };
  }

  /** The matches that would stay as they are, as CSV, each with why. */
  async left(sheetId: string, asked: NewValue, writer: Writer, asker: Asker): Promise<string> {
    const { scene, column, decided } = await this.tried(sheetId, asked, writer, asker);
    return leftAsCsv(decided.left, column.heading, scene);
  }

  /** Changes one column of all matches; those that are refused stay as they are. */
  change(sheetId: string, asked: ChangeMatches, writer: Writer): Promise<ManyChanged> {
    const work = (): Promise<ManyChanged> => this.changed(sheetId, asked, writer);
    return this.underway.follow(asked.writeId, writer.id, work);
  }

  private async changed(
    sheetId: string,
    asked: ChangeMatches,
    writer: Writer,
  ): Promise<ManyChanged> {
    const { writeId, view, columnId, text, count, takesAsked = false } = asked;
    const scene = await this.scene(sheetId);
    const column = columnToChange(scene.sheet, columnId);
    const cells = (await this.isWritten(writeId))
      ? []
      : await this.plan(scene, column, asked, null);
    const order = {
      sheetId,
      writeId,
      writer,
      door: 'matches' as const,
      asked: [
        'changeMatches',
        view,
        columnId,
        text,
        String(count),
        ...(takesAsked ? ['asked'] : []),
      ],
    };
    const decide: Decide = function* (site): Generator<void, Decided> {
      const decided = yield* decideMany(site, cells, { takesAsked });
      refuseWithout(decided);
      const { decisions, left } = decided;
      return { decisions, answer: { changed: decisions.length, left: left.length } };
    };
    return { writeId, ...(await this.carryOut(order, cells.length, decide)) };
  }

  /** Sends all matches to the bin. @throws Refused 409 where others match by now */
  remove(sheetId: string, asked: RemoveMatches, writer: Writer): Promise<ManyChanged> {
    const work = (): Promise<ManyChanged> => this.removed(sheetId, asked, writer);
    return this.underway.follow(asked.writeId, writer.id, work);
  }

  private async removed(
    sheetId: string,
    asked: RemoveMatches,
    writer: Writer,
  ): Promise<ManyChanged> {
    const { writeId, view, count } = asked;
    const scene = await this.scene(sheetId);
    const isRepeat = await this.isWritten(writeId);
    const matches = isRepeat
      ? []
      : await matchesOf(scene, asked, await this.lists.readyIn(scene.sheet), null);
    if (matches.length === 0 && !isRepeat) throw nothingToDo();
    const asking = ['removeMatches', view, String(count)];
    const order = { sheetId, writeId, writer, door: 'matches' as const, asked: asking };
    const decide: Decide = function* ({ model, told }): Generator<void, Decided> {
      const decisions = [];
      for (const match of matches) {
        if (decisions.length % FEW === FEW - 1) {
          told?.(decisions.length / matches.length);
          yield;
        }
        decisions.push(removed(recordSeen(match, model)));
      }
      return { decisions, answer: { changed: decisions.length, left: 0 } };
    };
    return { writeId, ...(await this.carryOut(order, matches.length, decide)) };
  }

  private async carryOut(
    order: WriteOrder,
    records: number,
    decide: Decide,
  ): Promise<Omit<ManyChanged, 'writeId'>> {
    const { answer } = await this.path.writeSome(order, decide, records);
    return answer as Omit<ManyChanged, 'writeId'>;
  }

  /** What a change would come to now; nothing is written. A secret word is asked at the write alone. */
  private async tried(
    sheetId: string,
    asked: NewValue,
    writer: Writer,
    asker: Asker,
  ): Promise<{ scene: Scene; column: StoredColumn; decided: ManyDecided }> {
    const scene = await this.scene(sheetId);
    const { columnId, takesAsked = false } = asked;
    const column = columnToChange(scene.sheet, columnId);
    const cells = await this.plan(scene, column, asked, asker);
    const decided = await this.path.tryOut(sheetId, writer, asker, function* (site) {
      const { admits: _, ...context } = site.context;
      return yield* decideMany({ ...site, context }, cells, {
        takesAsked,
        isTried: true,
      });
    });
    return { scene, column, decided };
  }

  /** Whether a write is a repeat, which gets the first answer whatever matches by now. */
  private isWritten(writeId: string): Promise<boolean> {
    return this.log.besideHasWrite(writeId);
  }

  /** What the column of each match is to hold, where that is something else; in turns with other requests. */
  private async plan(
    scene: Scene,
    column: StoredColumn,
    asked: NewValue,
    asker: Asker | null,
  ): Promise<RecordToChange[]> {
    const { model, sheet } = scene;
    const matches = await matchesOf(scene, asked, await this.lists.readyIn(sheet), asker);
    const read = await this.readerOf(scene, column, asked.text);
    const planned: RecordToChange[] = [];
    const pace = new Pace(asker);
    const budget = new Budget(MOST_EVALUATIONS);
    for (const match of matches) {
      await pace.keep();
      const slot = model.slotOf(match.id);
      if (slot === undefined) continue;
      const cell = budget.run(() => read(slot));
      if (budget.isSpent) throw takesTooLong();
      const isSame =
        cell.given.doubts.every(({ strictness }) => strictness !== 'refuse') &&
        JSON.stringify(cell.given.value) === JSON.stringify(model.cellOfSlot(slot, column.id));
      const { given, text } = cell;
      if (!isSame) planned.push({ ...match, given: { [column.id]: given }, text });
    }
    return planned;
  }

  /** What is given to the record in a slot: what was typed, or what a formula comes to. */
  private async readerOf(
    { sheet, model }: Scene,
    column: StoredColumn,
    text: string,
  ): Promise<(slot: number) => GivenCell> {
    const ground = { context: await this.lists.readyIn(sheet) };
    if (!text.trim().startsWith('=')) {
      const read = { given: judgeCell({ typed: text }, column, ground), text };
      return () => read;
    }
    const calculation = await this.calculator.of(sheet.workbook.id);
    // A formula may read the column it is for, as it is before.
    const result = computed({ ...column, id: '' }, sheet, calculation, text, false);
    const value = calculation.trial(sheet.id, result);
    return (slot) => {
      const given = model.isTaken(slot) ? asKept(value(slot)) : null;
      if (isErrorValue(given)) return { given: errorCell(given), text: sayErrorValue(given) };
      const typed = showValue(given, result, sheet.workbook.locale);
      // Texts and what is fed are held against what the column takes as if they were typed.
      const isValue =
        given === null ||
        (typeof given !== 'string' && !column.settings.list && isOfKind(given, column));
      const cell = judgeCell(isValue ? { value: given } : { typed }, column, ground);
      return { given: cell, text: typed };
    };
  }

  private async scene(sheetId: string): Promise<Scene> {
    const sheet = this.reader.facts(sheetId);
    await this.calculator.results(sheet.workbook.id, sheetId);
    return { sheet, model: await this.cache.model(sheetId) };
  }
}

/** A formula that fails in a record leaves it as it is. */
const errorCell = (error: ErrorValue): JudgedCell => ({
  value: null,
  doubts: [{ problem: { code: 'ownWords', says: sayErrorValue(error) }, strictness: 'refuse' }],
});

/** A number as cells keep it, with 15 digits: 8.14 and not 8.139999999999999. */
const asKept = (value: CellValue): CellValue =>
  typeof value === 'number' ? Number(value.toPrecision(15)) : value;

/** The records a question finds now. @throws Refused 409 where these are not as many as were seen */
async function matchesOf(
  { sheet, model }: Scene,
  { view, count }: { readonly view: string; readonly count: number },
  context: ReadingContext,
  asker: Asker | null,
): Promise<Match[]> {
  const positions = await viewPositions(sheet, model, view, context, asker);
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
function recordSeen({ id, revision }: Match, model: SheetModel) {
  const stored = model.has(id) ? model.get(id) : null;
  if (stored?.revision === revision) return stored;
  throw changedMeanwhile();
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

const takesTooLong = (): Refused =>
  Refused.unreadable(
    'This formula takes too long for so many records. Let it read fewer cells, or change fewer records.',
  );

const nothingToDo = (): Refused =>
  Refused.badRequest(
    'nothingToDo',
    'Nothing would change. Give another value or other conditions.',
  );
