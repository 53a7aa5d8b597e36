import { Budget, judgeWriteInSteps } from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { Calculator } from '../calculation/calculator';
import { Refused } from '../http/refused';
import { digestOf } from '../ids';
import { ChangeLog } from '../log/changeLog';
import type { Line, NewLine } from '../log/line';
import { Store } from '../store/store';
import type { SheetFacts } from '../store/catalog';
import type { Asker } from '../turns/asker';
import { nextTurn, Pace } from '../turns/turns';
import { applyRecords, changedColumns, type RecordPut } from './applying';
import { oneByOne, type Decide } from './deciding';
import type { Decision, RecordDecision, WriteOrder, WriteSite } from './decision';
import { KeysAhead, keyGround } from './keys';
import { LinesAhead } from './lines';
import { NumbersAhead } from './numbersAhead';
import { Pieces } from './pieces';
import { NotAsSeen, Staging, type Staged } from './staging';
import { Underway } from './underway';
import { RunningNumbers } from './runningNumbers';
import { refuseTaken } from './verdictViews';
import { WriteQueue } from './writeQueue';
import { WriteSites, type AtHand } from './writeSites';

/** Lines that are put into the staging table at once. */
const STAGED_AT_ONCE = 200;
/** Records read back from there at once, and cells of them brought into memory before others are answered. */
const READ_AT_ONCE = 500;
const APPLIED_AT_ONCE = 10_000;
/** How much of a large write is deciding it, and carrying it out. */
const SHARES = { decided: 0.75, carried: 0.2 };
/** How many of the longest the formulas may take in all that a large write computes. */
export const MOST_EVALUATIONS = 50;

/** What a large write came to. */
export interface LargeDone {
  /** The first of its lines, as many as were asked for. */
  readonly changes: readonly Line[];
  readonly last: Line | null;
  /** How many there are. */
  readonly lines: number;
  readonly answer: unknown;
}

/** What is known of a write that stands ready. */
interface Ahead {
  readonly answer: unknown;
  readonly lines: number;
  /** The first lines, as many as are wanted, and the last. */
  readonly first: readonly NewLine[];
  readonly last: NewLine | null;
  readonly keys: KeysAhead;
  /** The columns whose values it changes. */
  readonly columns: ReadonlySet<string>;
  /** Whether records come whose places were chosen among those that were there. */
  readonly adds: boolean;
}

interface InTurns {
  readonly numbers?: NumbersAhead;
  /** Who alone waits for it. */
  readonly asker?: Asker | null;
  readonly told?: WriteSite['told'];
}

/**
 * Writes of many records: each is decided and staged beforehand, in turns with other requests, and
 * stored in few statements between which others are answered. Of its records none is held in
 * memory longer than until it is staged.
 */
@Injectable()
export class LargeWrites {
  constructor(
    private readonly sites: WriteSites,
    private readonly queue: WriteQueue,
    private readonly staging: Staging,
    private readonly log: ChangeLog,
    private readonly calculator: Calculator,
    private readonly store: Store,
    private readonly numbers: RunningNumbers,
    private readonly underway: Underway,
  ) {}

  /**
   * Decides a write, and carries it out if what it was decided on stands then.
   *
   * @param most how many of its lines are wanted
   * @returns `again` where it does not stand any more, `mixed` where it is not of records alone
   */
  attempt(order: WriteOrder, decide: Decide, most: number): Promise<LargeDone | 'again' | 'mixed'> {
    return this.staging.alone(async () => {
      const atHand = await this.sites.atHand(order);
      const { model, rows } = atHand;
      const sheet = this.sites.sheetOf(order.sheetId);
      const seen = { version: model.version, sheet, rows: rows.count };
      const numbers = new NumbersAhead(this.numbers);
      const large = this.underway.of(order.writeId);
      const deciding = this.steps(order, (site) => this.ahead(order, decide, site, most), atHand, {
        numbers,
        told: (share) => large?.reach(share * SHARES.decided),
      });
      const ahead = await lastOf(deciding);
      if (!ahead) return 'mixed';
      const isStill = (): boolean =>
        this.sites.isAtHand(order, atHand) &&
        this.sites.sheetOf(order.sheetId) === seen.sheet &&
        rows.count === seen.rows &&
        (model.version === seen.version || !ahead.adds);
      const carryOut = this.queue.runAlone(
        async (database, pause) => {
          const isAhead = !this.log.hasWrite(database, order.writeId) && isStill();
          if (!isAhead || !numbers.stand(database)) return () => Promise.resolve(null);
          const judging = judgeWriteInSteps(ahead.keys.changes, keyGround({ sheet, ...atHand }));
          let judged = judging.next();
          for (; judged.done !== true; judged = judging.next()) await pause();
          refuseTaken(judged.value);
          numbers.take(database);
          const carried = await this.staging.carryOut(database, ahead.lines, async (share) => {
            await pause();
            large?.reach(SHARES.decided + share * SHARES.carried);
          });
          large?.finish();
          return async () => {
            await this.bringIntoMemory(ahead, atHand, sheet);
            return carried;
          };
        },
        () => this.sites.lose(order),
      );
      const carried = await carryOut.catch((error: unknown) => {
        if (error instanceof NotAsSeen) return null;
        throw error;
      });
      if (!carried) return 'again';
      const changes: Line[] = [];
      const pace = new Pace();
      const pieces = new Pieces();
      for (const [n, line] of ahead.first.entries()) {
        changes.push(Object.assign(line, carried(n)));
        if (pieces.isOver()) await pace.keep();
      }
      const last = ahead.last && { ...ahead.last, ...carried(ahead.lines - 1) };
      return { changes, last, lines: ahead.lines, answer: ahead.answer };
    });
  }

  /**
   * What a write would come to now, decided in turns with other requests; nothing is written.
   *
   * @param asker who alone waits for it
   */
  tryOut<T>(
    sheetId: string,
    writer: Writer,
    asker: Asker | null,
    decide: (site: WriteSite) => Generator<void, T>,
  ): Promise<T> {
    return lastOf(this.eachOf(sheetId, writer, asker, decide));
  }

  /** The same, and what it gives between its steps. */
  async *eachOf<Y, T>(
    sheetId: string,
    writer: Writer,
    asker: Asker | null,
    decide: (site: WriteSite) => Generator<Y | void, T>,
  ): AsyncGenerator<Y, T> {
    const order: WriteOrder = { sheetId, writeId: '', writer, door: 'grid', asked: [] };
    return yield* this.steps(order, decide, await this.sites.atHand(order), { asker });
  }

  private async *steps<Y, T>(
    order: WriteOrder,
    decide: (site: WriteSite) => Generator<Y | void, T>,
    atHand: AtHand,
    { asker = null, told, numbers = new NumbersAhead(this.numbers) }: InTurns,
  ): AsyncGenerator<Y, T> {
    const pace = new Pace(asker);
    const budget = new Budget(MOST_EVALUATIONS);
    let steps: Generator<Y | void, T> | undefined;
    for (;;) {
      const step = await this.store.withConnection((database) => {
        const take = (columnId: string): number =>
          numbers.next(database, columnId, this.sites.leastNumber(order, atHand.model, columnId));
        return budget.run(() => {
          steps ??= decide({
            ...this.sites.of(order, database, atHand, take),
            ...(told && { told }),
          });
          return steps.next();
        });
      });
      if (budget.isSpent) throw takesTooLong(this.sites.sheetOf(order.sheetId));
      if (step.done === true) return step.value;
      if (step.value !== undefined) yield step.value;
      await pace.keep();
    }
  }

  /** Decides a write and stages it, as if it were carried out now. @returns `null` where it is not of records alone */
  private *ahead(
    order: WriteOrder,
    decide: Decide,
    site: WriteSite,
    most: number,
  ): Generator<void, Ahead | null> {
    const { sheet, database } = site;
    const digest = digestOf(order.writer.id, ...order.asked);
    const lines = new LinesAhead({ order, digest, sheet, atHand: site });
    const keys = new KeysAhead(sheet.columns);
    const columns = new Set<string>();
    const first: NewLine[] = [];
    let last: NewLine | null = null;
    let adds = false;
    let waiting: Staged[] = [];
    const stage = (): void => {
      this.staging.put(database, waiting, lines.count - waiting.length);
      waiting = [];
    };
    const pieces = new Pieces();
    const deciding = oneByOne(decide(site));
    for (;;) {
      const { done, value } = deciding.next();
      if (done) {
        stage();
        this.staging.close(database, value);
        return { answer: value ?? null, lines: lines.count, first, last, keys, columns, adds };
      }
      if (!value) {
        yield;
        continue;
      }
      if (!isOfRecord(value)) return null;
      last = lines.next(value);
      if (lines.count <= most) first.push(last);
      waiting.push({ line: last, decision: value });
      keys.take(value);
      for (const column of changedColumns(value)) columns.add(column);
      adds ||= value.kind === 'recordAdded';
      if (waiting.length >= STAGED_AT_ONCE) stage();
      if (pieces.isOver(value.before, value.after)) yield;
    }
  }

  /** Brings what was stored into memory, before the next write. */
  private async bringIntoMemory(
    { lines, columns }: Ahead,
    { model }: AtHand,
    { id, workbook }: SheetFacts,
  ): Promise<void> {
    const pieces = new Pieces(APPLIED_AT_ONCE);
    let some: RecordPut[] = [];
    const apply = (): void => {
      applyRecords(some, columns, model, this.calculator.loaded(workbook.id), id);
      some = [];
    };
    for (let from = 0; from < lines; from += READ_AT_ONCE) {
      for (const put of await this.staging.page(from, READ_AT_ONCE)) {
        some.push(put);
        if (!pieces.isOver(put.record.cells)) continue;
        apply();
        await nextTurn();
      }
    }
    apply();
  }
}

/** Runs steps to their end. */
async function lastOf<T>(steps: AsyncGenerator<unknown, T>): Promise<T> {
  for (;;) {
    const step = await steps.next();
    if (step.done === true) return step.value;
  }
}

const isOfRecord = (decision: Decision): decision is RecordDecision =>
  decision.part === 'record' && decision.kind !== 'recordMoved';

export const takesTooLong = ({ name }: SheetFacts): Refused =>
  Refused.unreadable(
    `The formulas of ${name} take too long for so many records at once. Write fewer, or let the formulas read fewer cells.`,
  );
