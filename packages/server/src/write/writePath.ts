import {
  Budget,
  isOfZeros,
  judgeWrite,
  parseRunningNumber,
  PLAIN_PATTERN,
  type SheetModel,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { SecretWords } from '../access/secretWords';
import type { Database } from 'better-sqlite3';
import { randomUUID } from 'node:crypto';
import { Calculator } from '../calculation/calculator';
import { computingOf } from '../calculation/formEvaluator';
import { EventHub } from '../events/eventHub';
import { verdictViews } from './verdictViews';
import { refuseListCircles } from './listCircles';
import { Refused } from '../http/refused';
import { digestOf } from '../ids';
import { ChangeLog } from '../log/changeLog';
import { Lists } from '../lists/lists';
import { isRecordLine, type Line, type NewLine } from '../log/line';
import { eventOf } from '../log/told';
import { SheetCache } from '../store/sheetCache';
import { Catalog, type SheetFacts } from '../store/catalog';
import { Store } from '../store/store';
import type { Asker } from '../turns/asker';
import { nextTurn, Pace } from '../turns/turns';
import {
  applyRecord,
  applyRecords,
  applyRow,
  inFewOrders,
  movesRows,
  reshapes,
  storyOf,
} from './applying';
import {
  type Decision,
  type RecordDecision,
  type RowDecision,
  type WriteOrder,
  type WriteSite,
} from './decision';
import { keyChangesOf, keyGround } from './keys';
import { NumbersAhead } from './numbersAhead';
import { isLarge, Pieces } from './pieces';
import { RecordStore } from './recordStore';
import { RunningNumbers } from './runningNumbers';
import { Staging } from './staging';
import { Underway, type LargeWrite } from './underway';
import { WriteQueue } from './writeQueue';

/** A write of more lines than this is told of once, and whoever looks on reads anew. */
const MOST_TOLD = 100;

/** How often a large write is decided ahead before it is carried out at once. */
const ATTEMPTS = 3;
/** How much of a large write is deciding it, staging it, and carrying it out. */
const SHARES = { decided: 0.6, staged: 0.2, carried: 0.15 };
/** How many of the longest the formulas may take in all that a large write computes. */
const MOST_EVALUATIONS = 50;
/** Cells brought into memory before others are answered: who reads may see some of them first. */
const APPLIED_AT_ONCE = 10_000;

/** What a decision comes to, and what is kept to be answered to a repeat. */
export interface Decided {
  readonly decisions: readonly Decision[];
  readonly answer?: unknown;
}

/**
 * Decides what is to be done, at once or in steps between which others may be answered. The site is
 * that of the transaction, or of a moment before it, and then what was seen must stand still.
 */
export type Decide = (site: WriteSite) => Decided | Generator<void, Decided>;

/** What was written: the lines of the log, in order. */
export interface Done {
  readonly changes: readonly Line[];
  readonly answer: unknown;
}

/**
 * The one path by which anything in a workbook is written, whatever the door: once per write id,
 * in one transaction with its line in the log, then in memory, in the formulas that depend on it,
 * and told to all who look on.
 */
@Injectable()
export class WritePath {
  constructor(
    private readonly queue: WriteQueue,
    private readonly cache: SheetCache,
    private readonly catalog: Catalog,
    private readonly records: RecordStore,
    private readonly log: ChangeLog,
    private readonly calculator: Calculator,
    private readonly events: EventHub,
    private readonly store: Store,
    private readonly staging: Staging,
    private readonly lists: Lists,
    private readonly words: SecretWords,
    private readonly numbers: RunningNumbers,
    private readonly underway: Underway,
  ) {}

  /** Carries out what `decide` says, once. @throws what `decide` throws, and nothing is written */
  async write(order: WriteOrder, decide: Decide): Promise<Done> {
    try {
      return await this.writeWithin(new Budget(), order, decide);
    } catch (error) {
      if (error instanceof TakesLong) return this.writeMany(order, decide);
      throw error;
    }
  }

  private async writeWithin(budget: Budget, order: WriteOrder, decide: Decide): Promise<Done> {
    for (;;) {
      const done = await this.writeOn(await this.atHand(order), order, decide, budget);
      if (done) return done;
    }
  }

  /** @returns `null` where the sheet was forgotten while the write waited: it is read anew first */
  private async writeOn(
    { model, rows }: Pick<WriteSite, 'model' | 'rows'>,
    order: WriteOrder,
    decide: Decide,
    budget: Budget,
  ): Promise<Done | null> {
    const { workbook } = this.sheetOf(order.sheetId);
    const digest = digestOf(order.writer.id, ...order.asked);
    const lose = (): void => this.lose(order.sheetId);
    const { done, repeated } = await this.queue.run((database) => {
      if (!this.isAtHand(order, { model, rows })) return { done: null, repeated: true };
      const first = this.log.ofWrite(database, order.writeId);
      const [line] = first;
      if (line) {
        if (line.digest !== digest) throw writeIdUsed();
        return { done: { changes: first, answer: line.answer }, repeated: true };
      }
      const site = this.siteOf(order, database, { model, rows }, (columnId) =>
        this.numbers.take(database, columnId, this.leastNumber(order, model, columnId)),
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

  /**
   * The same of some records, as a large write where it is one.
   *
   * @param records how many it is about
   * @param cells how many of them it is about; all where absent
   */
  writeSome(order: WriteOrder, decide: Decide, records: number, cells?: number): Promise<Done> {
    const { columns } = this.sheetOf(order.sheetId);
    const isMany = isLarge(records, cells ?? records * columns.length);
    return isMany ? this.writeMany(order, decide) : this.write(order, decide);
  }

  /**
   * The same of a write of many records: it is decided and staged beforehand, in turns with other
   * requests, and stored in few statements between which others are answered. What it was decided
   * on must stand then; where others write all the time it is carried out at once in the end.
   */
  async writeMany(order: WriteOrder, decide: Decide): Promise<Done> {
    if (await this.log.besideHasWrite(order.writeId)) return this.write(order, decide);
    for (let attempt = 0; attempt < ATTEMPTS; attempt += 1) {
      const done = await this.staging.alone(() => this.attempt(order, decide));
      if (done) return done;
    }
    try {
      return await this.writeWithin(new Budget(MOST_EVALUATIONS), order, decide);
    } catch (error) {
      throw error instanceof TakesLong ? takesTooLong(this.sheetOf(order.sheetId)) : error;
    }
  }

  /** @returns `null` where it is to be tried again, or carried out at once */
  private async attempt(order: WriteOrder, decide: Decide): Promise<Done | null> {
    const { model, rows } = await this.atHand(order);
    const seen = { version: model.version, sheet: this.sheetOf(order.sheetId), rows: rows.count };
    const numbers = new NumbersAhead(this.numbers);
    const large = this.underway.of(order.writeId);
    const prepared = await this.decideInTurns(order, decide, { model, rows }, numbers, { large });
    const { decisions } = prepared;
    if (!decisions.every(isOfRecord)) return null;
    const { workbook } = seen.sheet;
    const digest = digestOf(order.writer.id, ...order.asked);
    const lines = await this.linesAhead(order, digest, prepared, { model, rows });
    await this.staging.stage(lines, decisions, (share) =>
      large?.reach(SHARES.decided + share * SHARES.staged),
    );
    const isStill = (): boolean => {
      if (!this.isAtHand(order, { model, rows })) return false;
      const sheet = this.sheetOf(order.sheetId);
      if (sheet !== seen.sheet || rows.count !== seen.rows) return false;
      return model.version === seen.version || decisions.every((each) => isAsSeen(each, model));
    };
    const lose = (): void => this.lose(order.sheetId);
    const carried = await this.queue.runAlone(async (database, pause) => {
      const isAhead = !this.log.hasWrite(database, order.writeId) && isStill();
      if (!isAhead || !numbers.stand(database)) return () => Promise.resolve(null);
      refuseJudged({ sheet: seen.sheet, model, rows }, decisions);
      numbers.take(database);
      const added = await this.staging.carryOut(database, async (share) => {
        await pause();
        large?.reach(SHARES.decided + SHARES.staged + share * SHARES.carried);
      });
      large?.finish();
      return async () => {
        const pieces = new Pieces(APPLIED_AT_ONCE);
        let some: RecordDecision[] = [];
        for (const [n, decision] of decisions.entries()) {
          some.push(decision);
          if (!pieces.isOver(decision.record.cells) && n < decisions.length - 1) continue;
          applyRecords(some, model, this.calculator.loaded(workbook.id), order.sheetId);
          some = [];
          await nextTurn();
        }
        return added;
      };
    }, lose);
    if (!carried) return null;
    const changes: Line[] = [];
    const pace = new Pace();
    const pieces = new Pieces();
    for (const [n, line] of lines.entries()) {
      changes.push(Object.assign(line, carried(n)));
      if (pieces.isOver()) await pace.keep();
    }
    this.tell(order, workbook.id, changes);
    return { changes, answer: prepared.answer ?? null };
  }

  /**
   * What a write would come to now, decided in turns with other requests; nothing is written.
   *
   * @param asker who alone waits for it
   */
  async tryOut<T>(
    sheetId: string,
    writer: Writer,
    asker: Asker | null,
    decide: (site: WriteSite) => Generator<void, T>,
  ): Promise<T> {
    const order: WriteOrder = { sheetId, writeId: '', writer, door: 'grid', asked: [] };
    const numbers = new NumbersAhead(this.numbers);
    return this.decideInTurns(order, decide, await this.atHand(order), numbers, {
      asker,
    });
  }

  /** The lines of a write that is carried out later, as if each was done before the next. */
  private async linesAhead(
    order: WriteOrder,
    digest: string,
    { decisions, answer }: Decided,
    atHand: Pick<WriteSite, 'model' | 'rows'>,
  ): Promise<NewLine[]> {
    const pace = new Pace();
    const pieces = new Pieces();
    const lines: NewLine[] = [];
    let [came, balance] = [0, 0];
    for (const [index, decision] of decisions.entries()) {
      const line = this.lineOf(order, digest, decision, index, atHand, answer);
      const { kind } = decision;
      if (isRecordLine(line)) {
        const below = kind === 'recordAdded' ? came : 0;
        const counted = line.counted + balance;
        lines.push({ ...line, gridRow: line.gridRow + below, counted });
      } else lines.push(line);
      if (kind === 'recordAdded') came += 1;
      if (kind === 'recordAdded' || kind === 'recordPutBack') balance += 1;
      if (kind === 'recordRemoved') balance -= 1;
      if (pieces.isOver(line.before, line.after)) await pace.keep();
    }
    return lines;
  }

  private async decideInTurns<T>(
    order: WriteOrder,
    decide: (site: WriteSite) => T | Generator<void, T>,
    atHand: Pick<WriteSite, 'model' | 'rows'>,
    numbers: NumbersAhead,
    { asker = null, large }: { asker?: Asker | null; large?: LargeWrite | undefined },
  ): Promise<T> {
    const told = (share: number): void => large?.reach(share * SHARES.decided);
    const pace = new Pace(asker);
    const budget = new Budget(MOST_EVALUATIONS);
    let steps: Generator<void, T> | undefined;
    for (;;) {
      const step = await this.store.withConnection((database) => {
        const take = (columnId: string): number =>
          numbers.next(database, columnId, this.leastNumber(order, atHand.model, columnId));
        return budget.run(() => {
          if (!steps) {
            const first = decide({ ...this.siteOf(order, database, atHand, take), told });
            if (!isInSteps(first)) return { done: true as const, value: first };
            steps = first;
          }
          return steps.next();
        });
      });
      if (budget.isSpent) throw takesTooLong(this.sheetOf(order.sheetId));
      if (step.done === true) return step.value;
      await pace.keep();
    }
  }

  private async atHand({ sheetId }: WriteOrder): Promise<Pick<WriteSite, 'model' | 'rows'>> {
    const { workbook } = this.sheetOf(sheetId);
    const model = await this.cache.model(sheetId);
    const rows = await this.cache.rows(sheetId);
    await this.calculator.ready(workbook.id);
    await this.lists.ready(this.sheetOf(sheetId));
    return { model, rows };
  }

  /** Whether a sheet is still the one in memory, and was not forgotten after a write that failed. */
  private isAtHand(
    { sheetId }: WriteOrder,
    { model, rows }: Pick<WriteSite, 'model' | 'rows'>,
  ): boolean {
    return this.cache.modelAtHand(sheetId) === model && this.cache.rowsAtHand(sheetId) === rows;
  }

  /**
   * The least a running number may be: that with which its pattern begins, above those that stand in
   * the sheet. A pattern of zeros begins with 1, and its numbers are counted from the first on.
   */
  private leastNumber({ sheetId }: WriteOrder, model: SheetModel, columnId: string): number {
    const { pattern = PLAIN_PATTERN } =
      this.sheetOf(sheetId).columnsById.get(columnId)?.settings ?? {};
    if (isOfZeros(pattern)) return 1;
    return parseRunningNumber(pattern, model.highestNumber(columnId).next(pattern)) ?? 1;
  }

  private siteOf(
    { sheetId, writer }: WriteOrder,
    database: Database,
    atHand: Pick<WriteSite, 'model' | 'rows'>,
    takeNumber: WriteSite['takeNumber'],
  ): WriteSite {
    const sheet = this.sheetOf(sheetId);
    const calculation = this.calculator.loaded(sheet.workbook.id);
    const computing = computingOf(sheetId, sheet.columns, calculation);
    const context = {
      ...this.lists.contextOf(sheet),
      admits: this.words.admitsFor(sheet.workbook.id, writer.id),
      holdsFile: (fileId: string) =>
        this.records.fileOf(database, sheet.workbook.id, fileId) !== undefined,
      ...(computing && { computing }),
    };
    return { database, sheet, ...atHand, calculation, now: context.now, context, takeNumber };
  }

  private lineOf(
    order: WriteOrder,
    digest: string,
    decision: Decision,
    index: number,
    site: Pick<WriteSite, 'model' | 'rows'>,
    answer: unknown,
  ): NewLine {
    const sheet = this.sheetOf(order.sheetId);
    return {
      ...storyOf(decision, site),
      sheetId: decision.part === 'sheet' ? decision.sheetId : sheet.id,
      workbookId: sheet.workbook.id,
      writeId: index === 0 ? order.writeId : `${order.writeId}/${index}`,
      batch: order.writeId,
      undoes: order.undoes ?? null,
      digest,
      accountId: order.writer.id,
      door: order.formId ?? order.door,
      answer: index === 0 ? (answer ?? null) : null,
    };
  }

  private perform(site: WriteSite, order: WriteOrder, digest: string, decided: Decided): Done {
    const { decisions, answer = null } = decided;
    refuseJudged(site, decisions);
    refuseListCircles(site.sheet, this.catalog, decisions);
    const changes: Line[] = [];
    try {
      const performOne = (decision: Decision, index: number): void => {
        const sheet = this.sheetOf(order.sheetId);
        const line = this.lineOf(order, digest, decision, index, site, answer);
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
      this.lose(order.sheetId);
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
      const { revision } = this.sheetOf(decision.sheetId);
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
    const held = this.sheetOf(sheetId);
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
        const held = this.sheetOf(decision.sheetId);
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

  private lose(sheetId: string): void {
    this.cache.drop(sheetId);
    const { workbook } = this.sheetOf(sheetId);
    this.calculator.drop(workbook.id);
    void this.catalog.refresh(workbook.id);
  }

  private tell(order: WriteOrder, workbookId: string, changes: readonly Line[]): void {
    const told = changes.length <= MOST_TOLD ? changes : changes.slice(-1);
    for (const change of told) {
      const event = eventOf(change, order.writer.name, this.sheetOf(change.sheetId));
      const { landed: _, ...bare } = event;
      this.events.publish(workbookId, changes.length <= MOST_TOLD ? event : bare);
    }
    this.calculator.settle(workbookId);
    this.lists.wrote(workbookId, changes);
  }

  private sheetOf(sheetId: string): SheetFacts {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    return sheet;
  }
}

/** The judge's word on what the write does as a whole, whatever the door. @throws Refused 422 */
function refuseJudged(
  site: Pick<WriteSite, 'sheet' | 'model' | 'rows'>,
  decisions: readonly Decision[],
): void {
  const verdicts = judgeWrite(keyChangesOf(decisions), keyGround(site));
  if (verdicts.length > 0) throw Refused.byVerdicts(verdictViews(verdicts.slice(0, MOST_TOLD)));
}

/** What a write computes would take longer than what holds others may. */
class TakesLong extends Error {}

const takesTooLong = ({ name }: SheetFacts): Refused =>
  Refused.unreadable(
    `The formulas of ${name} take too long for so many records at once. Write fewer, or let the formulas read fewer cells.`,
  );

const isInSteps = <T>(decided: T | Generator<void, T>): decided is Generator<void, T> =>
  typeof decided === 'object' && decided !== null && 'next' in decided;

function atOnce(decided: Decided | Generator<void, Decided>): Decided {
  if (!isInSteps(decided)) return decided;
  for (;;) {
    const step = decided.next();
    if (step.done === true) return step.value;
  }
}

const isOfRecord = (decision: Decision): decision is RecordDecision =>
  decision.part === 'record' && decision.kind !== 'recordMoved';

/** Whether a record still stands as it was when something was decided about it. */
function isAsSeen({ kind, record }: RecordDecision, model: SheetModel): boolean {
  if (kind !== 'recordChanged' && kind !== 'recordRemoved') return false;
  const slot = model.slotOf(record.id);
  return slot !== undefined && model.headOf(slot).revision === record.revision - 1;
}

function writeIdUsed(): Refused {
  return Refused.conflict(
    'writeIdUsed',
    'This write id was used for another write. Make a new one.',
  );
}
