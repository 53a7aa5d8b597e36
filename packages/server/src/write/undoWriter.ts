import type { CellNote, Landed, Undo, UndoEntry, UndoView, Written } from '@varn/contract';
import {
  judgeRestored,
  nameOfRecord,
  sayShapeChange,
  sayWrite,
  type ChangeKind,
  type Judged,
  type Cells,
  type Column,
  type StoredFreeRow,
  type StoredRecord,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { Refused } from '../http/refused';
import { Catalog, type SheetFacts } from '../store/catalog';
import {
  changed,
  moved,
  named,
  removed,
  reshaped,
  restored,
  rowChanged,
  rowMoved,
  rowPutBack,
  rowRemoved,
  type Decision,
  type WriteSite,
} from './decision';
import { ChangeLog, type OwnWrite } from '../log/changeLog';
import { isRecordLine, isRowLine, type Line, type UndoableLine } from '../log/line';
import { landedOf, wireCells } from '../log/told';
import { shapeOf } from '../store/sheetShape';
import { Pace } from '../turns/turns';
import { groundOf, Notes } from './judging';
import { RecordStore } from './recordStore';
import { cellsOf, Pieces } from './pieces';
import type { Deciding } from './deciding';
import { Underway } from './underway';
import { WritePath } from './writePath';

/** How far back one's own writes are looked through. */
const MOST_WRITES = 200;
/** Of a write of more lines it is not told where each record is. */
const MOST_LANDED = 2000;

/** A write's first and last line, and how many it has. */
interface Extent {
  readonly first: Line;
  readonly last: Line;
  readonly lines: number;
}

/** Takes back writes of one's own, and does them again; both are writes like any other. */
@Injectable()
export class UndoWriter {
  constructor(
    private readonly path: WritePath,
    private readonly records: RecordStore,
    private readonly log: ChangeLog,
    private readonly catalog: Catalog,
    private readonly underway: Underway,
  ) {}

  /** What one could take back next, and what do again. */
  async state(workbookId: string, writer: Writer): Promise<UndoView> {
    const writes = await this.log.ownWrites(workbookId, writer.id, MOST_WRITES);
    const { done, undone } = undoStacks(writes.reverse());
    const [undo, redo] = [done.at(-1), undone.at(-1)];
    return { undo: await this.entry(undo), redo: await this.entry(redo) };
  }

  /** Takes back a write of one's own, unless what it wrote was changed since. */
  async undo(
    workbookId: string,
    { writeId, undoes, anyway = false }: Undo,
    writer: Writer,
  ): Promise<Written> {
    const extent = await this.log.besideExtentOf(undoes);
    if (extent?.first.workbookId !== workbookId || !isUndoable(extent.first)) throw noSuchWrite();
    const { first, lines } = extent;
    if (first.accountId !== writer.id) {
      throw Refused.forbidden('You can only undo your own changes.');
    }
    const { sheetId } = first;
    const asked = ['undo', undoes, String(anyway)];
    const order = { sheetId, writeId, writer, door: 'undo' as const, asked, undoes };
    const decide = (site: WriteSite): Deciding => this.decide(site, undoes, extent, anyway);
    const { changes, answer } = await this.underway.follow(writeId, writer.id, () =>
      this.path.writeSome(order, decide, {
        records: lines,
        cells: lines * cellsOf([first.after ?? first.before]),
        ...(lines > MOST_LANDED && { lines: 0 }),
      }),
    );
    const told = answer as { notes?: CellNote[] } | null;
    const landed = await this.landed(changes);
    return {
      writeId,
      seq: changes.at(-1)?.seq ?? 0,
      // Of a single record it is told with it, as where it lands.
      records: landed.length === 1 ? landed.map((each) => ({ ...each, ...told })) : landed,
      rows: [],
      refused: [],
      ...told,
    };
  }

  /** Takes back each line of a write, the last first; they are read as they are come to. */
  private *decide(
    site: WriteSite,
    writeId: string,
    { first, last, lines }: Extent,
    anyway: boolean,
  ): Deciding {
    const notes = new Notes();
    // Where columns become what they were, the records are held against those. That is done before
    // all records, or after them when it is taken back.
    const reshaping = [first, last].flatMap((line) =>
      line.kind === 'sheetChanged' && line.sheetId === site.sheet.id ? [line.before] : [],
    );
    const columns = reshaping[0]?.columns ?? null;
    const pieces = new Pieces();
    for (const line of this.log.backwards(site.database, writeId)) {
      if (line === null || pieces.isOver(line.before, line.after)) yield;
      if (line === null) continue;
      if (!isUndoable(line)) throw noSuchWrite();
      site.told?.((last.seq - line.seq) / lines);
      const decision = inverseOf(line, this.scene(site, line, columns), anyway);
      if (decision.part === 'record' && 'judged' in decision) notes.take(decision.judged.verdicts);
      yield decision;
    }
    const { told } = notes;
    return { decisions: [], ...(told.length > 0 && { answer: { notes: told } }) };
  }

  private async landed(changes: readonly Line[]): Promise<Landed[]> {
    const pace = new Pace();
    const pieces = new Pieces();
    const all: Landed[] = [];
    for (const change of changes) {
      const sheet = this.catalog.sheet(change.sheetId);
      const landed = sheet && landedOf(change, sheet);
      if (landed) all.push(landed);
      if (pieces.isOver(landed?.cells)) await pace.keep();
    }
    return all;
  }

  private scene(site: WriteSite, line: Line, columns: readonly Column[] | null): Scene {
    const { sheetId } = line;
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    const ground = {
      ...groundOf(site),
      ...(columns && { columns: new Map(columns.map((column) => [column.id, column])) }),
    };
    const id = isRecordLine(line) ? line.recordId : isRowLine(line) ? line.rowId : '';
    return {
      ...site,
      sheet,
      record: site.model.has(id) ? site.model.get(id) : undefined,
      row: site.rows.get(id),
      comesBack: (cells, before) => judgeRestored(cells, before, ground),
      onWire: (cells) => cells && wireCells(cells, sheet),
      binnedRecord: () => this.records.binned<StoredRecord>(site.database, 'record', sheetId, id),
      binnedRow: () => this.records.binned<StoredFreeRow>(site.database, 'free_row', sheetId, id),
    };
  }

  private async entry(write: OwnWrite | undefined): Promise<UndoEntry | null> {
    if (!write) return null;
    const { writeId, kind, lines } = write;
    const sheet = this.catalog.sheet(write.sheetId);
    const line = sheet && lines === 1 ? (await this.log.besideExtentOf(writeId))?.first : null;
    const says =
      line?.kind === 'sheetChanged'
        ? sayShapeChange(line.before, line.after)
        : sayWrite(kind, lines, line && sheet ? nameOf(line, sheet) : '');
    return { writeId, says: `${says} in ${sheet?.name ?? ''}` };
  }
}

/** What people call the record of a line; blank where it is none. */
function nameOf(line: Line, { columns, workbook }: SheetFacts): string {
  if (!isRecordLine(line) || line.kind === 'recordMoved') return '';
  return nameOfRecord(line.after ?? line.before, columns, workbook.locale);
}

/** One's own writes parted into those that stand and those taken back, the oldest first. */
export function undoStacks<W extends Pick<OwnWrite, 'writeId' | 'undoes' | 'kind'>>(
  writes: readonly W[],
): { done: W[]; undone: W[] } {
  const done: W[] = [];
  let undone: W[] = [];
  for (const write of writes) {
    if (!UNDOABLE.has(write.kind)) continue;
    if (write.undoes === null) {
      done.push(write);
      undone = [];
      continue;
    }
    const taken = done.findIndex(({ writeId }) => writeId === write.undoes);
    const again = undone.findIndex(({ writeId }) => writeId === write.undoes);
    if (taken >= 0) {
      done.splice(taken, 1);
      undone.push(write);
    } else if (again >= 0) {
      undone.splice(again, 1);
      done.push(write);
    }
  }
  return { done, undone };
}

/** A write's lines with what they concern as it is now. */
interface Scene extends WriteSite {
  readonly record: StoredRecord | undefined;
  readonly row: StoredFreeRow | undefined;
  readonly binnedRecord: () => StoredRecord | undefined;
  readonly binnedRow: () => StoredFreeRow | undefined;
  /** Cells that come back, as the judge lets them through. */
  readonly comesBack: (cells: Cells, before: Cells | null) => Judged;
  /** A record's cells as the API tells them. */
  readonly onWire: (cells: Cells | null) => object | null;
}

const UNDOABLE: ReadonlySet<ChangeKind> = new Set<UndoableLine['kind']>([
  'recordAdded',
  'recordChanged',
  'recordRemoved',
  'recordPutBack',
  'recordMoved',
  'rowAdded',
  'rowChanged',
  'rowRemoved',
  'rowPutBack',
  'rowMoved',
  'sheetChanged',
  'namesChanged',
]);

/** Whether a line can be taken back: it keeps what was there before. */
export const isUndoable = (line: Line): line is UndoableLine => UNDOABLE.has(line.kind);

/** What takes a change back. */
function inverseOf(line: UndoableLine, scene: Scene, anyway: boolean): Decision {
  const { record, row, sheet, onWire } = scene;
  switch (line.kind) {
    case 'recordAdded':
    case 'recordPutBack':
      return removed(unchanged(line, line.after, record, anyway, onWire));
    case 'recordRemoved': {
      const binned = unchanged(line, line.before, scene.binnedRecord(), anyway, onWire);
      return restored(binned, scene.comesBack(binned.cells, null));
    }
    case 'recordChanged': {
      const stored = unchanged(line, line.after, record, anyway, onWire);
      const cells = anyway ? onlyWhatItChanged(stored.cells, line) : line.before;
      return changed(stored, scene.comesBack(cells, stored.cells));
    }
    case 'recordMoved':
      return moved(unmoved(line, record, anyway), line.before.orderKey);
    case 'rowAdded':
    case 'rowPutBack':
      return rowRemoved(unchanged(line, line.after, row, anyway));
    case 'rowRemoved':
      return rowPutBack(unchanged(line, line.before, scene.binnedRow(), anyway));
    case 'rowChanged': {
      const stored = unchanged(line, line.after, row, anyway);
      return rowChanged(stored, anyway ? onlyWhatItChanged(stored.cells, line) : line.before);
    }
    case 'rowMoved':
      return rowMoved(unmoved(line, row, anyway), line.before.orderKey);
    case 'sheetChanged':
      guard(JSON.stringify(shapeOf(sheet)) === JSON.stringify(line.after) || anyway, sheet);
      return reshaped(sheet, line.before);
    case 'namesChanged': {
      const { names } = sheet.workbook;
      guard(JSON.stringify(names) === JSON.stringify(line.after) || anyway, sheet);
      return named(names, line.before);
    }
  }
}

interface Revised {
  readonly revision: number;
}

/**
 * What a change touched, as it is now.
 *
 * @param left the cells as the change left them
 * @param shown how the cells are told
 * @throws Refused 404 where it is gone, 409 where someone changed it since
 */
function unchanged<C extends object, T extends Revised & { readonly cells: C }>(
  { revision }: Revised,
  left: C,
  row: T | undefined,
  anyway: boolean,
  shown: (cells: C) => object | null = (cells) => cells,
): T {
  if (!row) throw gone();
  // Another revision may hold the same again, after others were taken back.
  const same = row.revision === revision || sorted(row.cells) === sorted(left);
  if (!same && !anyway) throw Refused.changedSince({ yours: shown(left), now: shown(row.cells) });
  return row;
}

/** What was moved, as it is now. @throws Refused 404, 409 */
function unmoved<T extends Revised & { readonly cells: object; readonly orderKey: number }>(
  line: Revised & { readonly after: { readonly orderKey: number } },
  row: T | undefined,
  anyway: boolean,
): T {
  if (!row) throw gone();
  // One that was removed and put back stands where it stood, under another revision.
  const same = row.revision === line.revision || row.orderKey === line.after.orderKey;
  if (same || anyway) return row;
  throw Refused.changedSince({ yours: line.after, now: row.cells });
}

const gone = (): Refused => Refused.notFound('row any more');
const noSuchWrite = (): Refused => Refused.notFound('write to take back');

/** The cells of a row as one text, the same whatever order they were written in. */
function sorted(cells: object): string {
  return JSON.stringify(Object.entries(cells).sort(([a], [b]) => (a < b ? -1 : 1)));
}

function guard(holds: boolean, { name }: SheetFacts): void {
  if (holds) return;
  throw Refused.conflict(
    'changedSince',
    `The columns, rows or names of ${name} have changed since. Undo it anyway, or leave it.`,
  );
}

/** The cells as they are now, but those that a change wrote as they were before it. */
function onlyWhatItChanged<V>(
  now: Readonly<Record<string, V>>,
  { before, after }: { before: Readonly<Record<string, V>>; after: Readonly<Record<string, V>> },
): Readonly<Record<string, V>> {
  const cells: Record<string, V> = { ...now };
  for (const id of new Set([...Object.keys(before), ...Object.keys(after)])) {
    if (JSON.stringify(before[id]) === JSON.stringify(after[id])) continue;
    const was = before[id];
    if (was === undefined) Reflect.deleteProperty(cells, id);
    else cells[id] = was;
  }
  return cells;
}
