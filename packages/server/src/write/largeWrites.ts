import { Budget, judgeWriteInSteps } from '@varn/core';
import { Injectable, type BeforeApplicationShutdown } from '@nestjs/common';
import type { Writer } from '../access/access';
import { Calculator } from '../calculation/calculator';
import { Refused } from '../http/refused';
import { digestOf } from '../ids';
import { ChangeLog } from '../log/changeLog';
import type { Line, NewLine } from '../log/line';
import { Store } from '../store/store';
import type { SheetFacts } from '../store/catalog';
import type { Asker } from '../turns/asker';
import { inTurns, nextTurn, Pace } from '../turns/turns';
import { applyRecords, changedColumns, type RecordPut } from './applying';
import { Carrier, NotAsSeen } from './carrier';
import { oneByOne, type Decide } from './deciding';
import type { Decision, RecordDecision, WriteOrder, WriteSite } from './decision';
import { KeysAhead, keyGround } from './keys';
import { LinesAhead } from './lines';
import { NumbersAhead } from './numbersAhead';
import { Pieces } from './pieces';
import { Staging, type Stage, type Staged } from './staging';
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
/** When what a stopping server left off may be asked again, in seconds. */
const AGAIN_S = 5;
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

/** What the log adds to a line that was carried over. */
type Carried = (n: number) => { readonly seq: number; readonly at: number };

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

/** What a write that stands ready is carried out with. */
interface Ready {
  readonly stage: Stage;
  readonly atHand: AtHand;
  /** Whether what it was decided on stands. */
  readonly isStill: () => boolean;
  readonly numbers: NumbersAhead;
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
export class LargeWrites implements BeforeApplicationShutdown {
  private isStopping = false;

  constructor(
    private readonly sites: WriteSites,
    private readonly queue: WriteQueue,
    private readonly staging: Staging,
    private readonly carrier: Carrier,
    private readonly log: ChangeLog,
    private readonly calculator: Calculator,
    private readonly store: Store,
    private readonly numbers: RunningNumbers,
    private readonly underway: Underway,
  ) {}

  /**
   * Decides a write, and carries it out if what it was decided on stands then.
   *
   * @param records how many it is about, and `most` how many of its lines are wanted
   * @returns `again` where it does not stand any more, `mixed` where it is not of records alone
   */
  attempt(
    order: WriteOrder,
    decide: Decide,
    { records, most }: { readonly records: number; readonly most: number },
  ): Promise<LargeDone | 'again' | 'mixed'> {
    return this.staging.alone(records, async (stage) => {
      const atHand = await this.sites.atHand(order);
      const { model, rows } = atHand;
      const sheet = this.sites.sheetOf(order.sheetId);
      const seen = { version: model.version, sheet, rows: rows.count };
      const numbers = new NumbersAhead(this.numbers);
      const large = this.underway.of(order.writeId);
      const deciding = this.steps(
        order,
        (site) => this.ahead(order, decide, { site, stage, most }),
        atHand,
        {
          numbers,
          told: (share) => large?.reach(share * SHARES.decided),
        },
      );
      const ahead = await lastOf(deciding);
      if (!ahead) return 'mixed';
      const { answer, lines } = ahead;
      if (lines === 0) return { changes: [], last: null, lines, answer };
      const isStill = (): boolean =>
        this.sites.isAtHand(order, atHand) &&
        this.sites.sheetOf(order.sheetId) === seen.sheet &&
        rows.count === seen.rows &&
        (model.version === seen.version || !ahead.adds);
      const carried = await this.carryOut(order, ahead, { stage, atHand, isStill, numbers });
      if (!carried) return 'again';
      const changes: Line[] = [];
      const pace = new Pace();
      const pieces = new Pieces();
      for (const [n, line] of ahead.first.entries()) {
        changes.push(Object.assign(line, carried(n)));
        if (pieces.isOver()) await pace.keep();
      }
      const last = ahead.last && { ...ahead.last, ...carried(lines - 1) };
      return { changes, last, lines, answer };
    });
  }

  /** Stores what is staged, and brings it into memory. @returns `null` where it does not stand any more */
  private async carryOut(
    order: WriteOrder,
    ahead: Ahead,
    { stage, atHand, isStill, numbers }: Ready,
  ): Promise<Carried | null> {
    const sheet = this.sites.sheetOf(order.sheetId);
    const large = this.underway.of(order.writeId);
    let caughtUp = (): void => undefined;
    try {
      const carried = await this.queue.runAlone(async (database): Promise<Carried | null> => {
        const isAhead = !this.log.hasWrite(database, order.writeId) && isStill();
        if (!isAhead || !numbers.stand(database)) return null;
        const judging = judgeWriteInSteps(ahead.keys.changes, keyGround({ sheet, ...atHand }));
        refuseTaken(await inTurns(judging));
        const at = Date.now();
        const load = { lines: ahead.lines, at, numbers: numbers.taken };
        const last = await this.carrier.carryOut(database, stage.file, load, {
          told: (share) => large?.reach(SHARES.decided + share * SHARES.carried),
          mayCommit: () => large?.finish(),
        });
        caughtUp = this.sites.fallBehind(order, atHand);
        return (n: number) => ({ seq: last - ahead.lines + 1 + n, at });
      });
      if (carried) await this.bringIntoMemory(order, ahead, { stage, ...atHand });
      return carried;
    } catch (error) {
      if (error instanceof NotAsSeen) return null;
      throw error;
    } finally {
      caughtUp();
    }
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
    decide: (site: WriteSite) => Generator<undefined, T>,
  ): Promise<T> {
    return lastOf(this.eachOf(sheetId, writer, asker, decide));
  }

  /** The same, and what it gives between its steps. */
  async *eachOf<Y, T>(
    sheetId: string,
    writer: Writer,
    asker: Asker | null,
    decide: (site: WriteSite) => Generator<Y | undefined, T>,
  ): AsyncGenerator<Y, T> {
    const order: WriteOrder = { sheetId, writeId: '', writer, door: 'grid', asked: [] };
    return yield* this.steps(order, decide, await this.sites.atHand(order), { asker });
  }

  /** What is still being decided when the server stops is not begun; what is carried out is finished. */
  async beforeApplicationShutdown(): Promise<void> {
    this.isStopping = true;
    await this.staging.rest();
  }

  private async *steps<Y, T>(
    order: WriteOrder,
    decide: (site: WriteSite) => Generator<Y | undefined, T>,
    atHand: AtHand,
    { asker = null, told, numbers = new NumbersAhead(this.numbers) }: InTurns,
  ): AsyncGenerator<Y, T> {
    const pace = new Pace(asker);
    const budget = new Budget(MOST_EVALUATIONS);
    let steps: Generator<Y | undefined, T> | undefined;
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
      if (this.isStopping) throw Refused.busy(AGAIN_S);
    }
  }

  /** Decides a write and stages it, as if it were carried out now. @returns `null` where it is not of records alone */
  private *ahead(
    order: WriteOrder,
    decide: Decide,
    { site, stage, most }: { site: WriteSite; stage: Stage; most: number },
  ): Generator<undefined, Ahead | null> {
    const { sheet, database } = site;
    const digest = digestOf(order.writer.id, ...order.asked);
    const lines = new LinesAhead({ order, digest, sheet, atHand: site });
    const keys = new KeysAhead(sheet.columns);
    const columns = new Set<string>();
    const first: NewLine[] = [];
    let last: NewLine | null = null;
    let adds = false;
    let waiting: Staged[] = [];
    const put = (): void => {
      stage.put(database, waiting, lines.count - waiting.length);
      waiting = [];
    };
    const pieces = new Pieces();
    const deciding = oneByOne(decide(site));
    for (;;) {
      const { done, value } = deciding.next();
      if (done) {
        put();
        stage.close(database, value);
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
      if (waiting.length >= STAGED_AT_ONCE) put();
      if (pieces.isOver(value.before, value.after)) yield;
    }
  }

  /** Brings what was stored into memory, before the next write of the sheet. */
  private async bringIntoMemory(
    order: WriteOrder,
    { lines, columns }: Ahead,
    { stage, model }: AtHand & { readonly stage: Stage },
  ): Promise<void> {
    const { id, workbook } = this.sites.sheetOf(order.sheetId);
    const pieces = new Pieces(APPLIED_AT_ONCE);
    let some: RecordPut[] = [];
    const apply = (): void => {
      applyRecords(some, columns, model, this.calculator.loaded(workbook.id), id);
      some = [];
    };
    try {
      for (let from = 0; from < lines; from += READ_AT_ONCE) {
        for (const put of await stage.page(from, READ_AT_ONCE)) {
          some.push(put);
          if (!pieces.isOver(put.record.cells)) continue;
          apply();
          await nextTurn();
        }
      }
      apply();
    } catch (error) {
      this.sites.lose(order);
      throw error;
    }
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
