import type {
  ChangeMatches,
  ManyChanged,
  MatchesPreview,
  NewValue,
  RemoveMatches,
} from '@varn/contract';
import {
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
import { computed } from '../write/columns';
import { removed, type WriteOrder } from '../write/decision';
import type { Decide, Deciding } from '../write/deciding';
import { LargeWrites } from '../write/largeWrites';
import {
  changedMeanwhile,
  changeMany,
  leftAsCsv,
  nothingToDo,
  previewOf,
  SeenRecords,
  tryMany,
  withoutWords,
  type ManyToChange,
  type RecordSeen,
  type RecordToChange,
} from '../write/manyRecords';
import { Underway } from '../write/underway';
import { WritePath } from '../write/writePath';

/** How many of the records that would change a preview shows. */
const PREVIEWED = 10;
/** Records gone through before it is told how far it is. */
const FEW = 50;

/** A repeat is answered with what was answered first. */
const NOTHING = { decisions: [] };

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
    private readonly large: LargeWrites,
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
    const { scene, column, many } = await this.tried(sheetId, asked, asker);
    const { sheet, model } = scene;
    const tried = await this.large.tryOut(sheetId, writer, asker, (site) =>
      tryMany(withoutWords(site), many(), PREVIEWED),
    );
    const show = (value: CellValue = null): string =>
      showValue(value, column, sheet.workbook.locale);
    const there = tried.first.filter(({ record }) => model.has(record.id));
    return {
      ...previewOf(tried, scene),
      first: there.map(({ record, before, after }) => ({
        row: sheet.headingRow + 1 + model.positionOf(record.id),
        before: show(before?.[column.id]),
        after: show(after[column.id]),
      })),
    };
  }

  /** The matches that would stay as they are, as parts of a CSV file, each with why. */
  async *left(
    sheetId: string,
    asked: NewValue,
    writer: Writer,
    asker: Asker,
  ): AsyncGenerator<string, void> {
    const { column, many } = await this.tried(sheetId, asked, asker);
    yield* this.large.eachOf(sheetId, writer, asker, (site) =>
      leftAsCsv(withoutWords(site), many(), column.heading),
    );
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
    const isRepeat = await this.isWritten(writeId);
    const many = isRepeat ? null : await this.plan(scene, column, asked, null);
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
    const decide: Decide = (site) => (many ? changeMany(site, many()) : NOTHING);
    return { writeId, ...(await this.carryOut(order, isRepeat ? 0 : count, decide)) };
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
      ? new SeenRecords()
      : await matchesOf(scene, asked, await this.lists.readyIn(scene.sheet), null);
    if (matches.count === 0 && !isRepeat) throw nothingToDo();
    const asking = ['removeMatches', view, String(count)];
    const order = { sheetId, writeId, writer, door: 'matches' as const, asked: asking };
    const decide: Decide = function* ({ model, told }): Deciding {
      let gone = 0;
      for (const match of matches.heads()) {
        yield removed(recordSeen(match, model));
        gone += 1;
        if (gone % FEW === 0) told?.(gone / matches.count);
      }
      return { decisions: [], answer: { changed: gone, left: 0 } };
    };
    return { writeId, ...(await this.carryOut(order, matches.count, decide)) };
  }

  private async carryOut(
    order: WriteOrder,
    records: number,
    decide: Decide,
  ): Promise<Omit<ManyChanged, 'writeId'>> {
    const { answer } = await this.path.writeSome(order, decide, { records, lines: 0 });
    return answer as Omit<ManyChanged, 'writeId'>;
  }

  /** What a change is about, as it would be asked for now. */
  private async tried(
    sheetId: string,
    asked: NewValue,
    asker: Asker,
  ): Promise<{ scene: Scene; column: StoredColumn; many: () => ManyToChange }> {
    const scene = await this.scene(sheetId);
    const column = columnToChange(scene.sheet, asked.columnId);
    return { scene, column, many: await this.plan(scene, column, asked, asker) };
  }

  /** Whether a write is a repeat, which gets the first answer whatever matches by now. */
  private isWritten(writeId: string): Promise<boolean> {
    return this.log.besideHasWrite(writeId);
  }

  /** What the column of each match is to hold, where that is something else; found anew each time it is gone through. */
  private async plan(
    scene: Scene,
    column: StoredColumn,
    asked: NewValue,
    asker: Asker | null,
  ): Promise<() => ManyToChange> {
    const { model, sheet } = scene;
    const matches = await matchesOf(scene, asked, await this.lists.readyIn(sheet), asker);
    const read = await this.readerOf(scene, column, asked.text);
    const { takesAsked = false } = asked;
    return () => ({ count: matches.count, records: records(), takesAsked });

    function* records(): Generator<RecordToChange | undefined> {
      for (const match of matches.heads()) {
        const slot = model.slotOf(match.id);
        if (slot === undefined) yield { ...match, given: {}, text: '' };
        else {
          const { given, text } = read(slot);
          const isSame =
            given.doubts.every(({ strictness }) => strictness !== 'refuse') &&
            JSON.stringify(given.value) === JSON.stringify(model.cellOfSlot(slot, column.id));
          yield isSame ? undefined : { ...match, given: { [column.id]: given }, text };
        }
      }
    }
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
): Promise<SeenRecords> {
  const positions = await viewPositions(sheet, model, view, context, asker);
  if (positions.length !== count) {
    throw Refused.conflict(
      'countChanged',
      `There are ${sayCountOf(positions.length, 'match', 'matches')} now, not ${count}. Look at them again.`,
    );
  }
  const matches = new SeenRecords();
  for (const position of positions) matches.note(model, model.slotAt(position));
  return matches;
}

/** A match as it stands inside the transaction. @throws Refused 409 where it was changed since */
function recordSeen({ id, revision }: RecordSeen, model: SheetModel) {
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
