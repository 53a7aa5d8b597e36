import {
  judgeWrite,
  rowOfPosition,
  type Calculation,
  type StoredFreeRows,
  type SheetModel,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import type { Database } from 'better-sqlite3';
import { randomUUID } from 'node:crypto';
import { Calculator } from '../calculation/calculator';
import { EventHub } from '../events/eventHub';
import { verdictViews } from './verdictViews';
import { Refused } from '../http/refused';
import { digestOf } from '../ids';
import { ChangeLog } from '../log/changeLog';
import type { Line, LineStory, NewLine } from '../log/line';
import { eventOf } from '../log/told';
import { SheetCache } from '../store/sheetCache';
import { Catalog, nowIn, type SheetFacts } from '../store/catalog';
import {
  type Decision,
  type RecordDecision,
  type RowDecision,
  type WriteOrder,
  type WriteSite,
} from './decision';
import { keyChangesOf, keyGround } from './keys';
import { RecordStore } from './recordStore';
import { WriteQueue } from './writeQueue';

/** A write of more lines than this is told of once, and whoever looks on reads anew. */
const MOST_TOLD = 100;

/** From so many records on that go, come back or move, their order is made anew once. */
const MANY = 20;

/** What a decision comes to, and what is kept to be answered to a repeat. */
export interface Decided {
  readonly decisions: readonly Decision[];
  readonly answer?: unknown;
}

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
  ) {}

  /** Carries out what `decide` says, once. @throws what `decide` throws, and nothing is written */
  async write(order: WriteOrder, decide: (site: WriteSite) => Decided): Promise<Done> {
    const { workbook } = this.sheetOf(order.sheetId);
    const model = await this.cache.model(order.sheetId);
    const rows = await this.cache.rows(order.sheetId);
    await this.calculator.ready(workbook.id);
    const digest = digestOf(order.writer.id, ...order.asked);
    const lose = (): void => this.lose(order.sheetId);
    const { done, repeated } = await this.queue.run((database) => {
      const first = this.log.ofWrite(database, order.writeId);
      const [line] = first;
      if (line) {
        if (line.digest !== digest) throw writeIdUsed();
        return { done: { changes: first, answer: line.answer }, repeated: true };
      }
      const sheet = this.sheetOf(order.sheetId);
      const calculation = this.calculator.loaded(workbook.id);
      const site = { database, sheet, model, rows, calculation, now: nowIn(sheet.workbook) };
      const decided = decide(site);
      return { done: this.perform(site, order, digest, decided), repeated: false };
    }, lose);
    if (!repeated) this.tell(order, workbook.id, done.changes);
    return done;
  }

  private perform(site: WriteSite, order: WriteOrder, digest: string, decided: Decided): Done {
    const { decisions, answer = null } = decided;
    refuseJudged(site, decisions);
    const changes: Line[] = [];
    try {
      const performOne = (decision: Decision, index: number): void => {
        const sheet = this.sheetOf(order.sheetId);
        const line: NewLine = {
          ...storyOf(decision, site),
          sheetId: decision.part === 'sheet' ? decision.sheetId : sheet.id,
          workbookId: sheet.workbook.id,
          writeId: index === 0 ? order.writeId : `${order.writeId}/${index}`,
          batch: order.writeId,
          undoes: order.undoes ?? null,
          digest,
          accountId: order.writer.id,
          door: order.door,
          answer: index === 0 ? answer : null,
        };
        this.store(site.database, decision, sheet);
        changes.push(this.log.append(site.database, line));
        this.apply(decision, site, sheet);
      };
      // Each of these alone moves all records behind it.
      if (decisions.filter(shiftsRecords).length < MANY) decisions.forEach(performOne);
      else site.model.inBatch(() => decisions.forEach(performOne));
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
    const order = { sheetId, writeId: randomUUID(), writer, door: 'grid', asked: [] };
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

  private store(database: Database, decision: Decision, sheet: SheetFacts): void {
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
    const [table, row] =
      decision.part === 'record'
        ? (['record', decision.record] as const)
        : (['free_row', decision.row] as const);
    switch (decision.kind) {
      case 'recordAdded':
      case 'rowAdded':
        this.records.insert(database, table, sheet.id, row);
        break;
      case 'recordRemoved':
      case 'rowRemoved':
        this.records.bin(database, table, row, Date.now());
        break;
      case 'recordPutBack':
      case 'rowPutBack':
        this.records.bin(database, table, row, null);
        break;
      default:
        this.records.update(database, table, row);
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
  }

  private sheetOf(sheetId: string): SheetFacts {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    return sheet;
  }
}

/** The judge's word on what the write does as a whole, whatever the door. @throws Refused 422 */
function refuseJudged(site: WriteSite, decisions: readonly Decision[]): void {
  const verdicts = judgeWrite(keyChangesOf(decisions), keyGround(site));
  if (verdicts.length > 0) throw Refused.byVerdicts(verdictViews(verdicts.slice(0, MOST_TOLD)));
}

/** What the log tells of a decision. */
function storyOf(decision: Decision, { model, rows }: WriteSite): LineStory {
  switch (decision.part) {
    case 'record': {
      const { part: _, record, ...change } = decision;
      const position = model.has(record.id)
        ? model.positionOf(record.id)
        : model.positionFor(record.orderKey);
      return {
        ...change,
        recordId: record.id,
        revision: record.revision,
        // Rows above may have come in the same write.
        gridRow: rowOfPosition({ headingRow: rows.count + 1 }, position),
        counted: model.count,
      };
    }
    case 'row': {
      const { part: _, row, ...change } = decision;
      return { ...change, rowId: row.id, revision: row.revision };
    }
    case 'sheet':
    case 'names': {
      const { kind, before, after } = decision;
      return { kind, before, after } as LineStory;
    }
  }
}

function applyRecord(
  { kind, record, before, after }: RecordDecision,
  model: SheetModel,
  calculation: Calculation | null,
  sheetId: string,
): void {
  const slotBefore = model.slotOf(record.id);
  if (kind === 'recordRemoved') model.remove(record.id);
  else if (kind === 'recordChanged') model.update(record);
  else if (kind === 'recordMoved') {
    model.remove(record.id);
    model.add(record);
  } else model.add(record);
  if (!calculation) return;
  const slot = model.slotOf(record.id) ?? slotBefore ?? -1;
  const columns = new Set([...Object.keys(before ?? {}), ...Object.keys(after ?? {})]);
  calculation.touchRecord(sheetId, slot, columns, kind !== 'recordChanged');
}

function applyRow(
  { kind, row, before }: RowDecision,
  rows: StoredFreeRows,
  calculation: Calculation | null,
  sheetId: string,
): void {
  if (kind === 'rowRemoved') rows.remove(row.id);
  else rows.put(row);
  if (kind !== 'rowChanged') return;
  const columns = new Set([...Object.keys(before), ...Object.keys(row.cells)]);
  calculation?.touchFreeRow(sheetId, row.id, columns);
}

function shiftsRecords({ part, kind }: Decision): boolean {
  return (
    part === 'record' &&
    (kind === 'recordRemoved' || kind === 'recordPutBack' || kind === 'recordMoved')
  );
}

function movesRows(decision: Decision): boolean {
  return decision.part === 'row' && decision.kind !== 'rowChanged';
}

/** Whether formulas are to be tied anew: cells stand elsewhere, or the first formula may be here. */
function reshapes(decision: Decision, { calculation }: WriteSite): boolean {
  if (decision.part === 'sheet' || decision.part === 'names') return true;
  return decision.part === 'row' && (decision.kind !== 'rowChanged' || !calculation);
}

function writeIdUsed(): Refused {
  return Refused.conflict(
    'writeIdUsed',
    'This write id was used for another write. Make a new one.',
  );
}
