import {
  LONGEST_CELL,
  type ManyChanged,
  type ReplaceAll,
  type ReplacePreview,
  type ReplaceText,
} from '@varn/contract';
import {
  isOfKind,
  isSecret,
  isTyped,
  judgeCell,
  replacing,
  sayCountOf,
  typedValue,
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
import type { Decide } from '../write/deciding';
import { LargeWrites } from '../write/largeWrites';
import {
  changeMany,
  leftAsCsv,
  previewOf,
  SeenRecords,
  tryMany,
  withoutWords,
  type ManyToChange,
  type RecordToChange,
} from '../write/manyRecords';
import { Underway } from '../write/underway';
import { WritePath } from '../write/writePath';

/** Cells of usual length looked at before it is asked whether others wait. */
const FEW_CELLS = 200;
const USUAL_LENGTH = 60;

interface Scene {
  readonly sheet: SheetFacts;
  readonly model: SheetModel;
}

/** Where a text stands, and what the cells there are to be. */
interface Planned {
  readonly cells: number;
  readonly records: number;
  /** Found anew each time they are gone through. */
  readonly many: () => ManyToChange;
}

/** Puts a text in place of another in the records of a sheet, as one write held to all rules. */
@Injectable()
export class ReplaceWriter {
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

  /** What it would come to; nothing is written. */
  async preview(
    sheetId: string,
    asked: ReplaceText,
    writer: Writer,
    asker: Asker,
  ): Promise<ReplacePreview> {
    const scene = await this.scene(sheetId);
    const { cells, many } = await this.plan(scene, asked, asker);
    const tried = await this.large.tryOut(sheetId, writer, asker, (site) =>
      tryMany(withoutWords(site), many(), 0),
    );
    return { cells, ...previewOf(tried, scene) };
  }

  /** The records that would stay as they are, as parts of a CSV file, each with why. */
  async *left(
    sheetId: string,
    asked: ReplaceText,
    writer: Writer,
    asker: Asker,
  ): AsyncGenerator<string, void> {
    const { many } = await this.plan(await this.scene(sheetId), asked, asker);
    yield* this.large.eachOf(sheetId, writer, asker, (site) =>
      leftAsCsv(withoutWords(site), many(), 'Value'),
    );
  }

  /** @throws Refused 409 where the text stands in more or fewer cells than were seen; 422, 400 */
  replace(sheetId: string, asked: ReplaceAll, writer: Writer): Promise<ManyChanged> {
    const work = (): Promise<ManyChanged> => this.replaced(sheetId, asked, writer);
    return this.underway.follow(asked.writeId, writer.id, work);
  }

  private async replaced(
    sheetId: string,
    { writeId, cells, ...asked }: ReplaceAll,
    writer: Writer,
  ): Promise<ManyChanged> {
    const scene = await this.scene(sheetId);
    const isRepeat = await this.log.besideHasWrite(writeId);
    const planned = isRepeat ? null : await this.plan(scene, asked, null);
    if (planned && planned.cells !== cells) {
      throw Refused.conflict(
        'countChanged',
        `‘${asked.text}’ stands in ${sayCountOf(planned.cells, 'cell')} now, not ${cells}. Count again.`,
      );
    }
    const decide: Decide = (site) =>
      planned ? changeMany(site, planned.many()) : { decisions: [] };
    const said = ['replace', JSON.stringify({ ...asked, cells })];
    const order = { sheetId, writeId, writer, door: 'replace' as const, asked: said };
    const extent = { records: planned?.records ?? 0, lines: 0 };
    const { answer } = await this.path.writeSome(order, decide, extent);
    return { writeId, ...(answer as Omit<ManyChanged, 'writeId'>) };
  }

  /** Looks through the records of the view, in turns with other requests. */
  private async plan(
    { sheet, model }: Scene,
    { text, by, view, takesAsked = false }: ReplaceText,
    asker: Asker | null,
  ): Promise<Planned> {
    const context = await this.lists.readyIn(sheet);
    const positions =
      view === undefined ? null : await viewPositions(sheet, model, view, context, asker);
    const columns = sheet.columns.filter(mayBeReplaced);
    const replacedIn = replacingIn(
      { sheet, model },
      columns,
      context,
      replacing(text, by, LONGEST_CELL),
    );
    const pace = new Pace(asker);
    const seen = new SeenRecords();
    let [cells, looked] = [0, 0];
    for (let at = 0; at < (positions?.length ?? model.count); at += 1) {
      const position = positions?.[at] ?? at;
      // Records may have gone while others were answered.
      if (position >= model.count) continue;
      const slot = model.slotAt(position);
      const found = replacedIn(slot);
      looked += found.looked;
      if (found.texts.length > 0) {
        cells += found.texts.length;
        seen.note(model, slot);
      }
      if (looked < FEW_CELLS) continue;
      looked = 0;
      await pace.keep();
    }
    return {
      cells,
      records: seen.count,
      many: () => ({ count: seen.count, records: records(), takesAsked }),
    };

    function* records(): Generator<RecordToChange> {
      for (const head of seen.heads()) {
        const slot = model.slotOf(head.id);
        const { given, texts } = slot === undefined ? NOTHING_THERE : replacedIn(slot);
        yield { ...head, given, text: texts.join(' · ') };
      }
    }
  }

  private async scene(sheetId: string): Promise<Scene> {
    const sheet = this.reader.facts(sheetId);
    await this.calculator.results(sheet.workbook.id, sheetId);
    return { sheet, model: await this.cache.model(sheetId) };
  }
}

/** What a text would become is longer than a cell can be. */
const TOO_LONG: JudgedCell = {
  value: null,
  doubts: [
    {
      problem: { code: 'ownWords', says: `It would have more than ${LONGEST_CELL} characters.` },
      strictness: 'refuse',
    },
  ],
};

/** What stands in a record in place of what was there. */
interface ReplacedCells {
  readonly given: Readonly<Record<string, JudgedCell>>;
  /** Of each cell, what it is to be. */
  readonly texts: readonly string[];
  /** How much was looked at, in cells of usual length. */
  readonly looked: number;
}

const NOTHING_THERE: ReplacedCells = { given: {}, texts: [], looked: 0 };

/** Replaces a text in the cells of the record in a slot. */
function replacingIn(
  { sheet, model }: Scene,
  columns: readonly StoredColumn[],
  context: ReadingContext,
  replace: ReturnType<typeof replacing>,
): (slot: number) => ReplacedCells {
  const { locale } = sheet.workbook;
  return (slot) => {
    const given: Record<string, JudgedCell> = {};
    const texts: string[] = [];
    let looked = 0;
    for (const column of columns) {
      const value = model.cellOfSlot(slot, column.id);
      if (value === null || !isOfKind(value, column)) continue;
      const typed = typedValue(value, column, locale);
      const next = replace(typed);
      looked += 1 + typed.length / USUAL_LENGTH;
      if (next === null) continue;
      if ('tooLong' in next) {
        given[column.id] = TOO_LONG;
        texts.push(`${typed.slice(0, USUAL_LENGTH)}…`);
        continue;
      }
      looked += next.text.length / USUAL_LENGTH;
      // Of several choices, those that stood there before may stay.
      const ground = { context: { ...context, held: { [column.id]: value } } };
      given[column.id] = judgeCell({ typed: next.text }, column, ground);
      texts.push(next.text);
    }
    return { given, texts, looked };
  };
}

/** Columns that people type texts into; of a secret word nothing is told by trying. */
const mayBeReplaced = (column: StoredColumn): boolean =>
  isTyped(column) && column.kind !== 'file' && !isSecret(column);
