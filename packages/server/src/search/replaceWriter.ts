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
import {
  decideMany,
  leftAsCsv,
  previewOf,
  refuseWithout,
  type ManyDecided,
  type RecordToChange,
} from '../write/manyRecords';
import { Underway } from '../write/underway';
import { WritePath, type Decide, type Decided } from '../write/writePath';

/** The most records one write changes. */
const MOST_RECORDS = 50_000;
/** Cells of usual length looked at before it is asked whether others wait. */
const FEW_CELLS = 200;
const USUAL_LENGTH = 60;

interface Scene {
  readonly sheet: SheetFacts;
  readonly model: SheetModel;
}

/** The cells of records in which a text stands, with what they are to be. */
interface Planned {
  readonly records: readonly RecordToChange[];
  readonly cells: number;
}

/** Puts a text in place of another in the records of a sheet, as one write held to all rules. */
@Injectable()
export class ReplaceWriter {
  constructor(
    private readonly reader: SheetReader,
    private readonly cache: SheetCache,
    private readonly calculator: Calculator,
    private readonly path: WritePath,
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
    const { planned, decided } = await this.tried(scene, asked, writer, asker);
    return { cells: planned.cells, ...previewOf(decided, scene) };
  }

  /** The records that would stay as they are, as CSV, each with why. */
  async left(sheetId: string, asked: ReplaceText, writer: Writer, asker: Asker): Promise<string> {
    const scene = await this.scene(sheetId);
    const { decided } = await this.tried(scene, asked, writer, asker);
    return leftAsCsv(decided.left, 'Value', scene);
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
    const planned = isRepeat ? NOTHING : await this.plan(scene, asked, null);
    if (!isRepeat && planned.cells !== cells) {
      throw Refused.conflict(
        'countChanged',
        `‘${asked.text}’ stands in ${sayCountOf(planned.cells, 'cell')} now, not ${cells}. Count again.`,
      );
    }
    const { takesAsked = false } = asked;
    const decide: Decide = function* (site): Generator<void, Decided> {
      const decided = yield* decideMany(site, planned.records, { takesAsked });
      refuseWithout(decided);
      const { decisions, left } = decided;
      return { decisions, answer: { changed: decisions.length, left: left.length } };
    };
    const said = ['replace', JSON.stringify({ ...asked, cells })];
    const order = { sheetId, writeId, writer, door: 'replace' as const, asked: said };
    const { answer } = await this.path.writeSome(order, decide, planned.records.length);
    return { writeId, ...(answer as Omit<ManyChanged, 'writeId'>) };
  }

  private async tried(
    scene: Scene,
    asked: ReplaceText,
    writer: Writer,
    asker: Asker,
  ): Promise<{ planned: Planned; decided: ManyDecided }> {
    const planned = await this.plan(scene, asked, asker);
    const { takesAsked = false } = asked;
    const decided = await this.path.tryOut(scene.sheet.id, writer, asker, (site) => {
      const { admits: _, ...context } = site.context;
      return decideMany({ ...site, context }, planned.records, { takesAsked, isTried: true });
    });
    return { planned, decided };
  }

  /** Looks through the records of the view, in turns with other requests. */
  private async plan(
    { sheet, model }: Scene,
    { text, by, view }: ReplaceText,
    asker: Asker | null,
  ): Promise<Planned> {
    const context = await this.lists.readyIn(sheet);
    const { locale } = sheet.workbook;
    const positions =
      view === undefined ? null : await viewPositions(sheet, model, view, context, asker);
    const columns = sheet.columns.filter(mayBeReplaced);
    const replace = replacing(text, by, LONGEST_CELL);
    const pace = new Pace(asker);
    const records: RecordToChange[] = [];
    let [cells, looked] = [0, 0];
    for (let at = 0; at < (positions?.length ?? model.count); at += 1) {
      const position = positions?.[at] ?? at;
      // Records may have gone while others were answered.
      if (position >= model.count) continue;
      const slot = model.slotAt(position);
      const given: Record<string, JudgedCell> = {};
      const texts: string[] = [];
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
      if (texts.length > 0) {
        cells += texts.length;
        records.push({ ...model.headOf(slot), given, text: texts.join(' · ') });
      }
      if (looked < FEW_CELLS) continue;
      looked = 0;
      await pace.keep();
    }
    if (records.length > MOST_RECORDS) {
      throw Refused.badRequest(
        'tooMany',
        `text: it stands in ${sayCountOf(records.length, 'record')}; at most ${sayCountOf(MOST_RECORDS, 'record')} are changed at once. Show fewer of them first.`,
      );
    }
    return { records, cells };
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

const NOTHING: Planned = { records: [], cells: 0 };

/** Columns that people type texts into; of a secret word nothing is told by trying. */
const mayBeReplaced = (column: StoredColumn): boolean =>
  isTyped(column) && column.kind !== 'file' && !isSecret(column);
