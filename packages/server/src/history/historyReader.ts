import type { CellChangeView, HistoryQuery, HistoryView, RecordHistoryView } from '@varn/contract';
import { mayAs } from '@varn/contract';
import { sayShapeChange, sayWrite, toWire, type Cells } from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { Refused } from '../http/refused';
import { arrivalOf, type Arrival } from '../log/arrival';
import { ChangeLog } from '../log/changeLog';
import { doorName } from '../log/doorName';
import { isRecordLine, type Line, type RecordLine } from '../log/line';
import { Catalog, type SheetFacts } from '../store/catalog';
import { Account, Membership } from '../store/entities';
import { SheetCache } from '../store/sheetCache';
import { Store } from '../store/store';
import { isUndoable } from '../write/undoWriter';

/** Entries of one answer, and how many writes are gone through for those that are asked for. */
const PAGE = 50;
const MOST_LOOKED = 2000;

/** Tells what happened to a record, and who did what in a workbook. */
@Injectable()
export class HistoryReader {
  constructor(
    private readonly log: ChangeLog,
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly store: Store,
  ) {}

  /** What happened to a record of a sheet, the newest first; also of one in the bin. */
  async ofRecord(
    sheetId: string,
    recordId: string,
    before = Number.MAX_SAFE_INTEGER,
  ): Promise<RecordHistoryView> {
    const sheet = this.sheetOf(sheetId);
    const lines = await this.log.ofRecord(recordId, before, PAGE + 1);
    const shown = lines.filter((line) => line.sheetId === sheetId).slice(0, PAGE);
    const isWhole = lines.length <= PAGE;
    const arrival = isWhole ? await this.arrivalOf(sheetId, recordId) : null;
    if (shown.length === 0 && !arrival && before === Number.MAX_SAFE_INTEGER) {
      throw Refused.notFound('record in this sheet');
    }
    const names = await this.namesOf(arrival ? [...shown, arrival.line] : shown);
    const last = shown.at(-1);
    const came = arrival && {
      seq: arrival.line.seq,
      writeId: arrival.line.batch,
      kind: arrival.line.kind,
      at: arrival.line.at,
      by: names.get(arrival.line.accountId) ?? '',
      door: this.doorName('arrival'),
      revision: 1,
      changes: changesBetween(NO_CELLS, arrival.cells, sheet),
    };
    return {
      entries: [
        ...shown.filter(isRecordLine).map((line) => ({
          seq: line.seq,
          writeId: line.batch,
          kind: line.kind,
          at: line.at,
          by: names.get(line.accountId) ?? '',
          door: this.doorName(line.door),
          revision: line.revision,
          changes: changesOf(line, sheet),
        })),
        ...(came ? [came] : []),
      ],
      ...(!isWhole && last && { next: last.seq }),
    };
  }

  private async arrivalOf(sheetId: string, recordId: string): Promise<Arrival | null> {
    const model = await this.cache.model(sheetId);
    const stored = model.has(recordId) ? model.get(recordId).cells : undefined;
    return arrivalOf(this.log, { sheetId, recordId }, stored);
  }

  /** Who did what in a workbook, the newest first. */
  async ofWorkbook(
    workbookId: string,
    { before, person, sheet, door, from, to }: HistoryQuery,
    reader: Writer,
  ): Promise<HistoryView> {
    const isWanted = (line: Line): boolean =>
      (person === undefined || line.accountId === person) &&
      (sheet === undefined || line.sheetId === sheet) &&
      (door === undefined || line.door === door) &&
      (from === undefined || line.at >= from) &&
      (to === undefined || line.at < to);
    const start = before ?? Number.MAX_SAFE_INTEGER;
    const { found, next } = await this.log.writes(workbookId, start, isWanted, {
      most: PAGE,
      looked: MOST_LOOKED,
    });
    const firsts = found.map(({ first }) => first);
    const names = await this.namesOf(firsts);
    const taken = await this.log.takenBack(
      workbookId,
      firsts.map(({ batch }) => batch),
    );
    const role = this.catalog.role(workbookId, reader.id);
    const mayWrite = role !== undefined && mayAs(role, 'clerk');
    // Where entries end before those asked for begin, older ones need not be gone through.
    const oldest = firsts.at(-1);
    const isOver =
      next === null || (from !== undefined && oldest !== undefined && oldest.at < from);
    return {
      entries: found.map(({ first, lines }) => {
        const mine = first.accountId === reader.id;
        const takenBack = taken.has(first.batch);
        return {
          seq: first.seq,
          writeId: first.batch,
          kind: first.kind,
          at: first.at,
          by: names.get(first.accountId) ?? '',
          mine,
          door: this.doorName(first.door),
          sheetId: first.sheetId,
          sheet: this.nameOf(workbookId, first.sheetId),
          says:
            lines === 1 && first.kind === 'sheetChanged'
              ? sayShapeChange(first.before, first.after)
              : sayWrite(first.kind, lines),
          ...(lines === 1 && isRecordLine(first) && this.placeOf(first)),
          takenBack,
          mayTakeBack: mine && mayWrite && !takenBack && isUndoable(first),
        };
      }),
      ...(!isOver && { next }),
      people: await this.peopleOf(workbookId),
    };
  }

  /** The people of a workbook, for whom its history can be asked. */
  private async peopleOf(workbookId: string): Promise<HistoryView['people']> {
    const members = await this.store
      .em()
      .find(Membership, { workbook: workbookId }, { populate: ['account'] });
    return members
      .map(({ account: { id, name } }) => ({ id, name }))
      .sort((a, b) => a.name.localeCompare(b.name));
  }

  /** The record of a line, and where it stands, as far as it is in memory. */
  private placeOf({ sheetId, recordId }: RecordLine & Line): { recordId?: string; row?: number } {
    const model = this.cache.modelAtHand(sheetId);
    const sheet = this.catalog.sheet(sheetId);
    if (!model || !sheet) return { recordId };
    if (!model.has(recordId)) return {};
    return { recordId, row: sheet.headingRow + 1 + model.positionOf(recordId) };
  }

  private async namesOf(lines: readonly Line[]): Promise<ReadonlyMap<string, string>> {
    const ids = [...new Set(lines.map(({ accountId }) => accountId))];
    const accounts = await this.store.em().find(Account, { id: { $in: ids } });
    return new Map(accounts.map(({ id, name }) => [id, name]));
  }

  private doorName(door: string): string {
    return doorName(door, (id) => this.catalog.anyForm(id)?.name);
  }

  private nameOf(workbookId: string, sheetId: string): string {
    return this.catalog.allSheetsOf(workbookId).find(({ id }) => id === sheetId)?.name ?? '';
  }

  private sheetOf(sheetId: string): SheetFacts {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    return sheet;
  }
}

const NO_CELLS: Cells = {};

/** The cells that a line changed, in the order of the sheet's columns. */
function changesOf(line: RecordLine, sheet: SheetFacts): CellChangeView[] {
  if (line.kind === 'recordMoved') return [];
  return changesBetween(line.before ?? NO_CELLS, line.after ?? NO_CELLS, sheet);
}

function changesBetween(before: Cells, after: Cells, { columns }: SheetFacts): CellChangeView[] {
  return columns.flatMap((column) => {
    const [was, is] = [before[column.id] ?? null, after[column.id] ?? null];
    if (JSON.stringify(was) === JSON.stringify(is)) return [];
    return [{ columnId: column.id, before: toWire(was, column), after: toWire(is, column) }];
  });
}
