import type {
  ChangeValues,
  CountValues,
  ManyChanged,
  ValueChange,
  ValuesCount,
} from '@varn/contract';
import {
  isTyped,
  joinChoices,
  judgeCell,
  sayCountOf,
  showValue,
  splitChoices,
  type CellValue,
  type JudgedCell,
  type SheetModel,
  type StoredColumn,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { Refused } from '../http/refused';
import { ChangeLog } from '../log/changeLog';
import { Catalog, type SheetFacts } from '../store/catalog';
import { SheetCache } from '../store/sheetCache';
import type { Asker } from '../turns/asker';
import { Pace } from '../turns/turns';
import type { WriteSite } from '../write/decision';
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

/** Records looked at before it is asked whether others wait. */
const MANY = 1000;

/** Changes values of a column wherever they are stored: spellings folded into one, an item renamed. */
@Injectable()
export class ValuesWriter {
  constructor(
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly path: WritePath,
    private readonly large: LargeWrites,
    private readonly log: ChangeLog,
    private readonly underway: Underway,
  ) {}

  /** How many records hold values that are to become others, and what would become of them. */
  async count(
    sheetId: string,
    columnId: string,
    asked: CountValues,
    writer: Writer,
    asker: Asker,
  ): Promise<ValuesCount> {
    const { sheet, model, found, many } = await this.tried(sheetId, columnId, asked, asker);
    const tried = await this.large.tryOut(sheetId, writer, asker, (site) => {
      const beside = withoutWords(site);
      return tryMany(beside, many(beside), 0);
    });
    return { count: found.count, ...previewOf(tried, { sheet, model }) };
  }

  /** The records that would stay as they are, as parts of a CSV file, each with why. */
  async *left(
    sheetId: string,
    columnId: string,
    asked: CountValues,
    writer: Writer,
    asker: Asker,
  ): AsyncGenerator<string, void> {
    const { column, many } = await this.tried(sheetId, columnId, asked, asker);
    yield* this.large.eachOf(sheetId, writer, asker, (site) => {
      const beside = withoutWords(site);
      return leftAsCsv(beside, many(beside), column.heading);
    });
  }

  /** @throws Refused 409 where others hold them by now; 422 where no record can hold the new value */
  change(
    sheetId: string,
    columnId: string,
    asked: ChangeValues,
    writer: Writer,
  ): Promise<ManyChanged> {
    const work = (): Promise<ManyChanged> => this.changed(sheetId, columnId, asked, writer);
    return this.underway.follow(asked.writeId, writer.id, work);
  }

  private async changed(
    sheetId: string,
    columnId: string,
    { writeId, changes, count, takesAsked = false }: ChangeValues,
    writer: Writer,
  ): Promise<ManyChanged> {
    const { sheet, column } = this.columnOf(sheetId, columnId);
    const becoming = becomingIn(column, sheet, changes);
    const seen = [JSON.stringify(changes), String(count), ...(takesAsked ? ['asked'] : [])];
    const order = {
      sheetId,
      writeId,
      writer,
      door: 'values' as const,
      asked: ['changeValues', columnId, ...seen],
    };
    const isRepeat = await this.log.besideHasWrite(writeId);
    const model = await this.cache.model(sheetId);
    const found = isRepeat ? new SeenRecords() : await holders(model, becoming, null);
    if (!isRepeat) refuseOthers(found.count, count);
    const decide: Decide = (site) =>
      isRepeat
        ? { decisions: [] }
        : changeMany(site, manyOf(found, becoming.recordsOf(found, site), takesAsked));
    const extent = { records: found.count, lines: 0 };
    const { answer } = await this.path.writeSome(order, decide, extent);
    return { writeId, ...(answer as Omit<ManyChanged, 'writeId'>) };
  }

  /** What a change is about, as it would be asked for now. */
  private async tried(
    sheetId: string,
    columnId: string,
    { changes, takesAsked = false }: CountValues,
    asker: Asker,
  ): Promise<Tried> {
    const { sheet, column } = this.columnOf(sheetId, columnId);
    const model = await this.cache.model(sheetId);
    const becoming = becomingIn(column, sheet, changes);
    const found = await holders(model, becoming, asker);
    const many = (site: WriteSite): ManyToChange =>
      manyOf(found, becoming.recordsOf(found, site), takesAsked);
    return { sheet, column, model, found, many };
  }

  private columnOf(sheetId: string, columnId: string): { sheet: SheetFacts; column: StoredColumn } {
    const sheet = this.catalog.sheetInUse(sheetId);
    const column = sheet?.columnsById.get(columnId);
    if (!sheet || !column) throw Refused.notFound('column in this sheet');
    if (isTyped(column) && column.kind !== 'file') return { sheet, column };
    throw Refused.badRequest(
      'notTyped',
      `columnId: ${column.heading} is filled in by Varn or computed. Choose a column that people type.`,
    );
  }
}

interface Tried {
  readonly sheet: SheetFacts;
  readonly column: StoredColumn;
  readonly model: SheetModel;
  readonly found: SeenRecords;
  readonly many: (site: WriteSite) => ManyToChange;
}

const manyOf = (
  { count }: SeenRecords,
  records: Iterable<RecordToChange>,
  takesAsked: boolean,
): ManyToChange => ({ count, records, takesAsked });

/** What a cell becomes, told by the texts of what it holds. */
interface Becoming {
  readonly columnId: string;
  readonly isMeant: (value: CellValue) => boolean;
  /** What the cells of these records are to be, each text read as if it were typed there. */
  readonly recordsOf: (found: SeenRecords, site: WriteSite) => Iterable<RecordToChange>;
}

function becomingIn(
  column: StoredColumn,
  { workbook: { locale } }: SheetFacts,
  changes: readonly ValueChange[],
): Becoming {
  const to = new Map(
    changes.flatMap(({ from, to: text }) => from.map((each) => [each, text] as const)),
  );
  // Values are few and records many.
  const told = new Map<CellValue, boolean>();
  const isMany = column.kind === 'severalChoices';
  const { separator } = column.settings;
  const textsOf = (value: CellValue): string[] =>
    isMany && typeof value === 'string'
      ? splitChoices(value, separator)
      : [showValue(value, column, locale)];
  const textAfter = (value: CellValue): string =>
    joinChoices([...new Set(textsOf(value).map((text) => to.get(text) ?? text))], separator);
  return {
    columnId: column.id,
    isMeant(value) {
      if (value === null) return false;
      let is = told.get(value);
      if (is === undefined) {
        is = textsOf(value).some((text) => to.has(text));
        told.set(value, is);
      }
      return is;
    },
    *recordsOf(found, { model, context }) {
      const read = new Map<CellValue, { text: string; given: JudgedCell }>();
      for (const holder of found.heads()) {
        const slot = model.slotOf(holder.id);
        const value = slot === undefined ? null : model.cellOfSlot(slot, column.id);
        let cell = read.get(value);
        if (!cell) {
          const text = textAfter(value);
          // Of several choices, those that stood there before may stay.
          const held = { [column.id]: value };
          const ground = { context: { ...context, held, asWritten: true } };
          cell = { text, given: judgeCell({ typed: text }, column, ground) };
          read.set(value, cell);
        }
        const { text, given } = cell;
        yield { ...holder, given: { [column.id]: given }, text };
      }
    },
  };
}

/** The records that hold values that are meant. */
async function holders(
  model: SheetModel,
  { columnId, isMeant }: Becoming,
  asker: Asker | null,
): Promise<SeenRecords> {
  const pace = new Pace(asker);
  const found = new SeenRecords();
  for (let position = 0; position < model.count; position += 1) {
    if (position % MANY === 0) await pace.keep();
    if (position < model.count && isMeant(model.cellAt(position, columnId))) {
      found.note(model, model.slotAt(position));
    }
  }
  return found;
}

function refuseOthers(found: number, count: number): void {
  if (found === 0) {
    throw Refused.badRequest(
      'nothingToDo',
      'No record holds these values any more. Look at them again.',
    );
  }
  if (found !== count) {
    throw Refused.conflict(
      'changedSince',
      `${sayCountOf(found, 'record')} hold these values by now, not ${count}. Look at them again.`,
    );
  }
}
