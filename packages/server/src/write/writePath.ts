import { Budget, judgeWrite } from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import type { Database } from 'better-sqlite3';
import { randomUUID } from 'node:crypto';
import { Calculator } from '../calculation/calculator';
import { EventHub } from '../events/eventHub';
import { refuseTaken } from './verdictViews';
import { refuseListCircles } from './listCircles';
import { Refused } from '../http/refused';
import { digestOf } from '../ids';
import { ChangeLog } from '../log/changeLog';
import { Lists } from '../lists/lists';
import type { Line } from '../log/line';
import { eventOf } from '../log/told';
import { Catalog, type SheetFacts } from '../store/catalog';
import { applyRecord, applyRow, inFewOrders, movesRows, reshapes } from './applying';
import { atOnce, type Decide, type Decided } from './deciding';
import {
  type Decision,
  type RecordDecision,
  type RowDecision,
  type WriteOrder,
  type WriteSite,
} from './decision';
import { keyChangesOf, keyGround } from './keys';
import { LargeWrites, MOST_EVALUATIONS, takesTooLong } from './largeWrites';
import { lineOf } from './lines';
import { isLarge } from './pieces';
import { RecordStore } from './recordStore';
import { RunningNumbers } from './runningNumbers';
import { Underway } from './underway';
import { WriteQueue } from './writeQueue';
import { WriteSites, type AtHand } from './writeSites';

/** A write of more lines than this is told of once, and whoever looks on reads anew. */
const MOST_TOLD = 100;

/** How often a large write is decided ahead before it is carried out at once. */
const ATTEMPTS = 3;
/** The most records that are carried out at once, as nobody is answered meanwhile. */
const MOST_AT_ONCE = 50_000;

/** What was written: the lines of the log, in order. */
export interface Done {
  /** As many of the first as were asked for. */
  readonly changes: readonly Line[];
  readonly answer: unknown;
}

/** How large a write of some records is. */
export interface Extent {
  readonly records: number;
  /** How many cells of them it is about; all where absent. */
  readonly cells?: number;
  /** How many of its lines are wanted; all where absent. */
  readonly lines?: number;
}

/**
 * The one path by which anything in a workbook is written, whatever the door: once per write id,
 * in one transaction with its line in the log, then in memory, in the formulas that depend on it,
 * and told to all who look on.
 */
@Injectable()
export class WritePath {
  constructor(
    private readonly sites: WriteSites,
    private readonly large: LargeWrites,
    private readonly queue: WriteQueue,
    private readonly catalog: Catalog,
    private readonly records: RecordStore,
    private readonly log: ChangeLog,
    private readonly calculator: Calculator,
    private readonly events: EventHub,
    private readonly lists: Lists,
    private readonly numbers: RunningNumbers,
    private readonly underway: Underway,
  ) {}

  /**
   * Carries out what `decide` says, once.
   *
   * @param lines how many of its lines are wanted; all where absent
   * @throws what `decide` throws, and nothing is written
   */
  async write(order: WriteOrder, decide: Decide, lines?: number): Promise<Done> {
    try {
      return await this.writeWithin(new Budget(), order, decide, lines);
    } catch (error) {
      if (!(error instanceof TakesLong)) throw error;
      return this.writeMany(order, decide, { records: 0, ...(lines !== undefined && { lines }) });
    }
  }

  private async writeWithin(
    budget: Budget,
    order: WriteOrder,
    decide: Decide,
    lines?: number,
  ): Promise<Done> {
    for (;;) {
      const atHand = await this.sites.atHand(order);
      const done = await this.writeOn(atHand, order, decide, { budget, lines });
      if (done) return done;
    }
  }

  /** @returns `null` where the sheet was forgotten while the write waited: it is read anew first */
  private async writeOn(
    atHand: AtHand,
    order: WriteOrder,
    decide: Decide,
    { budget, lines }: { readonly budget: Budget; readonly lines: number | undefined },
  ): Promise<Done | null> {
    const { workbook } = this.sites.sheetOf(order.sheetId);
    const digest = digestOf(order.writer.id, ...order.asked);
    const lose = (): void => this.sites.lose(order);
    const { done, repeated } = await this.queue.run((database) => {
      if (!this.sites.isAtHand(order, atHand)) return { done: null, repeated: true };
      const first = this.log.firstOfWrite(database, order.writeId);
      if (first) {
        if (first.digest !== digest) throw writeIdUsed();
        const changes = this.log.ofWrite(database, order.writeId, lines);
        return { done: { changes, answer: first.answer }, repeated: true };
      }
      const site = this.sites.of(order, database, atHand, (columnId) =>
        this.numbers.take(
          database,
          columnId,
          this.sites.leastNumber(order, atHand.model, columnId),
        ),
      );
      this.underway.of(order.writeId)?.finish();
      const decided = budget.run(() => atOnce(decide(site)));
      // What several records come to is not kept in part: it is decided in turns, where more is let.
      if (budget.isSpent && decided.decisions.length > 1) throw new TakesLong();
      return { done: this.perform(site, order, digest, decided), repeated: false };
    }, lose);
    if (done && !repeated) this.tell(order, workbook.id, done.changes);
    return done;
  }

  /** The same of some records, as a large write where it is one. */
  writeSome(order: WriteOrder, decide: Decide, extent: Extent): Promise<Done> {
    const { columns } = this.sites.sheetOf(order.sheetId);
    const { records, cells = records * columns.length, lines } = extent;
    return isLarge(records, cells)
      ? this.writeMany(order, decide, extent)
      : this.write(order, decide, lines);
  }

  /**
   * The same of a write of many records: it is decided and staged beforehand, in turns with other
   * requests, and stored in few statements between which others are answered. What it was decided
   * on must stand then; where others write all the time it is carried out at once in the end.
   *
   * @throws Refused 409 where it is too large for that
   */
  async writeMany(
    order: WriteOrder,
    decide: Decide,
    { records, lines = Infinity }: Extent,
  ): Promise<Done> {
    if (await this.log.besideHasWrite(order.writeId)) return this.write(order, decide, lines);
    const sheet = this.sites.sheetOf(order.sheetId);
    for (let attempt = 0; attempt < ATTEMPTS; attempt += 1) {
      const done = await this.large.attempt(order, decide, { records, most: lines });
      if (done === 'mixed') break;
      if (done === 'again') continue;
      if (done.last) {
        const isTold = done.changes.length === done.lines && done.lines <= MOST_TOLD;
        this.publish(order, isTold ? done.changes : [done.last], isTold);
        this.calculator.settle(sheet.workbook.id);
        this.lists.wroteMany(sheet.workbook.id, sheet.id);
      }
      return done;
    }
    if (records > MOST_AT_ONCE) throw othersWrite(sheet);
    try {
      return await this.writeWithin(new Budget(MOST_EVALUATIONS), order, decide, lines);
    } catch (error) {
      throw error instanceof TakesLong ? takesTooLong(sheet) : error;
    }
  }

  private perform(site: WriteSite, order: WriteOrder, digest: string, decided: Decided): Done {
    const { decisions, answer = null } = decided;
    refuseTaken(judgeWrite(keyChangesOf(decisions), keyGround(site)));
    refuseListCircles(site.sheet, this.catalog, decisions);
    const changes: Line[] = [];
    try {
      const performOne = (decision: Decision, index: number): void => {
        const sheet = this.sites.sheetOf(order.sheetId);
        const line = lineOf({ order, digest, sheet, atHand: site }, decision, index, answer);
        this.storeOne(site.database, decision, sheet);
        changes.push(this.log.append(site.database, line));
        this.apply(decision, site, sheet);
      };
      inFewOrders(decisions, site.model, () => decisions.forEach(performOne));
      if (decisions.some(movesRows)) this.shiftRows(site, order.sheetId);
      if (decisions.some((decision) => reshapes(decision, site))) {
        this.calculator.reshaped(site.sheet.workbook.id);
      }
    } catch (error) {
      // Memory may be ahead of what is rolled back: it is read anew.
      this.sites.lose(order);
      throw error;
    }
    return { changes, answer };
  }

  /** Changes a sheet's shape. @throws Refused 409 when it was changed since `revision` */
  async reshape(
    sheetId: string,
    revision: number,
    writer: Writer,
    decide: (sheet: SheetFacts, site: WriteSite) => Decision[],
  ): Promise<void> {
    // The sheet's revision guards it: a repeat is refused as out of date.
    const order: WriteOrder = {
      sheetId,
      writeId: randomUUID(),
      writer,
      door: 'columns',
      asked: [],
    };
    await this.write(order, (site) => {
      if (site.sheet.revision !== revision) {
        throw Refused.conflict(
          'changedSince',
          'The sheet’s rows or columns were changed since. Look at the sheet again.',
        );
      }
      return { decisions: decide(site.sheet, site) };
    });
  }

  private storeOne(database: Database, decision: Decision, sheet: SheetFacts): void {
    if (decision.part === 'sheet') {
      const { revision } = this.sites.sheetOf(decision.sheetId);
      this.records.reshape(database, decision.sheetId, revision + 1, decision.after);
    } else if (decision.part === 'names') {
      this.records.setNames(database, sheet.workbook.id, decision.after);
    } else this.storeRow(database, decision, sheet);
  }

  private storeRow(
    database: Database,
    decision: RecordDecision | RowDecision,
    sheet: SheetFacts,
  ): void {
    switch (decision.kind) {
      case 'recordAdded':
        this.records.addRecord(database, sheet.id, decision.record, decision.judged);
        break;
      case 'recordChanged':
        this.records.changeRecord(database, decision.record, decision.judged);
        break;
      case 'recordPutBack':
        // It keeps the cells it had in the bin, all of which were judged.
        this.records.bin(database, 'record', decision.record, null);
        break;
      case 'recordRemoved':
        this.records.bin(database, 'record', decision.record, Date.now());
        break;
      case 'recordMoved':
        this.records.move(database, 'record', decision.record);
        break;
      case 'rowAdded':
        this.records.addRow(database, sheet.id, decision.row);
        break;
      case 'rowChanged':
        this.records.changeRow(database, decision.row);
        break;
      case 'rowRemoved':
        this.records.bin(database, 'free_row', decision.row, Date.now());
        break;
      case 'rowPutBack':
        this.records.bin(database, 'free_row', decision.row, null);
        break;
      case 'rowMoved':
        this.records.move(database, 'free_row', decision.row);
    }
  }

  /** Rows outside of the records are part of a sheet's shape when they come, go or move. */
  private shiftRows({ database, rows }: WriteSite, sheetId: string): void {
    const held = this.sites.sheetOf(sheetId);
    const revision = held.revision + 1;
    this.records.reshape(database, sheetId, revision, held);
    this.catalog.put({ ...held, freeRows: rows.count, headingRow: rows.count + 1, revision });
  }

  private apply(
    decision: Decision,
    { model, rows, calculation }: WriteSite,
    sheet: SheetFacts,
  ): void {
    switch (decision.part) {
      case 'record':
        applyRecord(decision, model, calculation, sheet.id);
        break;
      case 'row':
        applyRow(decision, rows, calculation, sheet.id);
        break;
      case 'sheet': {
        const held = this.sites.sheetOf(decision.sheetId);
        const { columns } = decision.after;
        this.catalog.put({
          ...held,
          ...decision.after,
          revision: held.revision + 1,
          columnsById: new Map(columns.map((column) => [column.id, column])),
        });
        break;
      }
      case 'names':
        this.catalog.putNames(sheet.workbook.id, decision.after);
    }
  }

  private tell(order: WriteOrder, workbookId: string, changes: readonly Line[]): void {
    const isTold = changes.length <= MOST_TOLD;
    this.publish(order, isTold ? changes : changes.slice(-1), isTold);
    this.calculator.settle(workbookId);
    this.lists.wrote(workbookId, changes);
  }

  /** Tells all who look on. @param isWhole whether by all its lines, or by the last of many */
  private publish(order: WriteOrder, lines: readonly Line[], isWhole: boolean): void {
    for (const line of lines) {
      const sheet = this.sites.sheetOf(line.sheetId);
      const event = eventOf(line, order.writer.name, sheet);
      const { landed: _, ...bare } = event;
      this.events.publish(sheet.workbook.id, isWhole ? event : bare);
    }
  }
}

/** What a write computes would take longer than what holds others may. */
class TakesLong extends Error {}

function writeIdUsed(): Refused {
  return Refused.conflict(
    'writeIdUsed',
    'This write id was used for another write. Make a new one.',
  );
}

const othersWrite = ({ name }: SheetFacts): Refused =>
  Refused.conflict(
    'changedSince',
    `Others kept writing to ${name}, so nothing was changed. Try again in a moment.`,
  );
