import type { BroughtIn } from '@varn/contract';
import {
  judgeRestored,
  localeFacts,
  serialNow,
  USUAL_CURRENCY,
  ORDER_GAP,
  parseRunningNumber,
  PLAIN_PATTERN,
  type CellValue,
  type Column,
  type RecordGround,
  type StoredFreeCell,
} from '@varn/core';
import { Injectable, Logger, type OnModuleInit } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { newId } from '../ids';
import { FreeRowEntity, Membership, Sheet, Workbook } from '../store/entities';
import { Store } from '../store/store';
import { Calculator } from '../calculation/calculator';
import { RecordStore } from './recordStore';
import { RunningNumbers } from './runningNumbers';
import type { Writer } from '../access/access';
import { StructureWriter } from './structureWriter';
import { refuseNameTaken } from './sheetWriter';
import { WriteQueue } from './writeQueue';

/** A workbook to be made for an arriving sheet. */
export interface NewWorkbook {
  readonly name: string;
  readonly locale: string;
  readonly timeZone: string;
  /** ISO 4217, of money columns that name none. */
  readonly currency?: string;
}

export interface ArrivingSheet {
  readonly name: string;
  readonly columns: readonly Column<never>[];
}

/** Gives records batch by batch, in the order of the sheet's columns; at the end its top matter. */
export type RecordSource = (store: (records: CellValue[][]) => Promise<void>) => Promise<Arrived>;

export interface Arrived {
  readonly topMatter: (string | null)[][];
  readonly counts: ArrivalCounts;
}

export type ArrivalCounts = Omit<BroughtIn, 'workbookId' | 'sheetId'>;

export interface ArrivalOrder {
  readonly writeId: string;
  /** Of what was asked, so that another request under the same write id is told apart. */
  readonly digest: string;
  readonly writer: Writer;
  /** A workbook's id, or the workbook to make, whose owner the writer becomes. */
  readonly into: string | NewWorkbook;
  readonly sheet: ArrivingSheet;
  readonly source: RecordSource;
}

/** The most choices that are gathered from the values of a choice column. */
const MOST_CHOICES = 1000;

/**
 * Writes a whole new sheet as one write: its records are stored in batches, between which other
 * writes go on, and it is seen by nobody until the last is there. What a crash left half-stored
 * is cleared away at the next start.
 */
@Injectable()
export class ArrivalWriter implements OnModuleInit {
  private readonly logger = new Logger('arrivals');
  private readonly underWay = new Map<string, Promise<BroughtIn>>();

  constructor(
    private readonly store: Store,
    private readonly queue: WriteQueue,
    private readonly records: RecordStore,
    private readonly numbers: RunningNumbers,
    private readonly structure: StructureWriter,
    private readonly calculator: Calculator,
  ) {}

  async onModuleInit(): Promise<void> {
    await this.store.open();
    const left = await this.store
      .em()
      .find(Sheet, { arriving: true }, { fields: ['id', 'workbook'] });
    for (const { id, workbook } of left) {
      this.logger.warn(`sheet ${id} had not wholly arrived; it is cleared away`);
      await this.clearAway(workbook.id, id);
    }
  }

  async bringIn(order: ArrivalOrder): Promise<BroughtIn> {
    const { writeId } = order;
    let arriving = this.underWay.get(writeId);
    if (!arriving) {
      arriving = this.arrive(order).finally(() => this.underWay.delete(writeId));
      this.underWay.set(writeId, arriving);
    }
    return arriving;
  }

  private async arrive(order: ArrivalOrder): Promise<BroughtIn> {
    const { writeId, sheet, writer, digest, source } = order;
    const before = await this.structure.answerOf<BroughtIn>({ writeId, digest });
    if (before) return before;
    const sheetId = newId();
    const workbookId = await this.makeRoom(sheetId, order);
    const gathered = new Gathered(sheet.columns);
    const ground = await this.groundOf(workbookId, sheet);
    let orderKey = 0;
    try {
      const { topMatter, counts } = await source((batch) =>
        this.queue.run(
          (database) => {
            for (const values of batch) {
              orderKey += ORDER_GAP;
              const judged = judgeRestored(gathered.cellsOf(values), null, ground);
              const head = { id: newId(), orderKey, revision: 1 };
              this.records.addRecord(database, sheetId, head, judged);
            }
          },
          () => undefined,
        ),
      );
      await this.queue.run(
        (database) => this.keepNumbers(database, gathered),
        () => undefined,
      );
      const brought = await this.structure.write(
        { writeId, writer, kind: 'sheetAdded', digest },
        async (em) => {
          const columns = gathered.columnsWithChoices();
          const width = topMatter.reduce((most, row) => Math.max(most, row.length), 0);
          const looseColumns = Array.from({ length: Math.max(0, width - columns.length) }, newId);
          const places = [...columns.map(({ id }) => id), ...looseColumns];
          for (const [n, texts] of topMatter.entries()) {
            const cells = texts.flatMap((value, column): [string, StoredFreeCell][] =>
              value === null ? [] : [[places[column] ?? '', { value }]],
            );
            await em.insert(FreeRowEntity, {
              id: newId(),
              sheet: sheetId,
              orderKey: (n + 1) * ORDER_GAP,
              revision: 1,
              cells: Object.fromEntries(cells),
            });
          }
          await em.nativeUpdate(Sheet, sheetId, { columns, looseColumns, arriving: false });
          return { workbookId, sheetId, answer: { workbookId, sheetId, ...counts } };
        },
      );
      this.calculator.drop(workbookId);
      return brought;
    } catch (error) {
      await this.clearAway(workbookId, sheetId);
      throw error;
    }
  }

  /** What the records are held against: the sheet's columns alone, as nothing else is there yet. */
  private async groundOf(workbookId: string, { columns }: ArrivingSheet): Promise<RecordGround> {
    const { locale, timeZone } = await this.store.em().findOneOrFail(Workbook, workbookId);
    return {
      columns: new Map(columns.map((column) => [column.id, column])),
      context: { locale: localeFacts(locale), now: serialNow(Date.now(), timeZone) },
    };
  }

  private makeRoom(sheetId: string, { into, sheet, writer }: ArrivalOrder): Promise<string> {
    return this.store.transaction(async (em) => {
      const workbookId = typeof into === 'string' ? into : newId();
      if (typeof into !== 'string') {
        const { currency = USUAL_CURRENCY } = into;
        await em.insert(Workbook, { id: workbookId, names: [], ...into, currency });
        await em.insert(Membership, { workbook: workbookId, account: writer.id, role: 'owner' });
      }
      const others = await em.find(Sheet, { workbook: workbookId }, { fields: ['name'] });
      refuseNameTaken(sheet.name, others);
      const place = others.length;
      await em.insert(Sheet, {
        id: sheetId,
        workbook: workbookId,
        place,
        revision: 1,
        arriving: true,
        name: sheet.name,
        hasRecords: true,
        looseColumns: [],
        lostColumns: [],
        look: {},
        columns: [...sheet.columns],
      });
      return workbookId;
    });
  }

  /** Running numbers go on above the highest that arrived. */
  private keepNumbers(database: Database, gathered: Gathered): void {
    for (const [columnId, highest] of gathered.highestNumbers) {
      this.numbers.goOnFrom(database, columnId, highest);
    }
  }

  private async clearAway(workbookId: string, sheetId: string): Promise<void> {
    await this.store.transaction(async (em) => {
      await em.nativeDelete(Sheet, { id: sheetId, arriving: true });
      if ((await em.count(Sheet, { workbook: workbookId })) === 0) {
        await em.nativeDelete(Workbook, { id: workbookId });
      }
    });
  }
}

/** What is learnt of the values while they arrive. */
class Gathered {
  readonly highestNumbers = new Map<string, number>();
  private readonly choices = new Map<string, Set<string>>();

  constructor(private readonly columns: readonly Column<never>[]) {
    for (const { id, kind, settings } of columns) {
      if (kind === 'oneChoice' && !settings.choices) this.choices.set(id, new Set());
    }
  }

  cellsOf(values: readonly CellValue[]): Record<string, CellValue> {
    const cells: Record<string, CellValue> = {};
    this.columns.forEach((column, index) => {
      const value = values[index] ?? null;
      if (value === null) return;
      cells[column.id] = value;
      if (typeof value === 'string') this.note(column, value);
    });
    return cells;
  }

  columnsWithChoices(): Column<never>[] {
    return this.columns.map((column) => {
      const choices = this.choices.get(column.id);
      return choices
        ? { ...column, settings: { ...column.settings, choices: [...choices] } }
        : column;
    });
  }

  private note({ id, kind, settings }: Column<never>, value: string): void {
    const choices = this.choices.get(id);
    if (choices && choices.size < MOST_CHOICES) choices.add(value);
    if (kind !== 'runningNumber') return;
    const number = parseRunningNumber(settings.pattern ?? PLAIN_PATTERN, value);
    const highest = this.highestNumbers.get(id) ?? 0;
    if (number !== null && number > highest) this.highestNumbers.set(id, number);
  }
}
