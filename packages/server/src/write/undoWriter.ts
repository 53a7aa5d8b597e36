import type { ChangeKind, Undo, UndoEntry, UndoView, Written } from '@varn/contract';
import {
  sayCountOf,
  type Cells,
  type FreeCells,
  type FreeRow,
  type RangeName,
  type StoredRecord,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import { Refused } from '../http/refused';
import { Catalog, type SheetFacts } from '../store/catalog';
import {
  changed,
  moved,
  putBack,
  removed,
  reshaped,
  rowChanged,
  rowMoved,
  rowPutBack,
  rowRemoved,
  shapeOf,
  type Decision,
  type SheetShape,
  type Writer,
  type WriteSite,
} from './decision';
import { landedOf, wireCells } from './landed';
import { RecordStore, type OwnWrite, type PastChange } from './recordStore';
import { WritePath } from './writePath';

/** How far back one's own writes are looked through. */
const MOST_WRITES = 200;

/** Takes back writes of one's own, and does them again; both are writes like any other. */
@Injectable()
export class UndoWriter {
  constructor(
    private readonly path: WritePath,
    private readonly records: RecordStore,
    private readonly catalog: Catalog,
  ) {}

  /** What one could take back next, and what do again. */
  async state(workbookId: string, writer: Writer): Promise<UndoView> {
    const writes = await this.records.ownWrites(workbookId, writer.id, MOST_WRITES);
    const { done, undone } = undoStacks(writes.reverse());
    return { undo: this.entry(done.at(-1)), redo: this.entry(undone.at(-1)) };
  }

  /** Takes back a write of one's own, unless what it wrote was changed since. */
  async undo(
    workbookId: string,
    { writeId, undoes, anyway = false }: Undo,
    writer: Writer,
  ): Promise<Written> {
    const lines = await this.records.changesBeside(undoes);
    const [first] = lines;
    if (first?.workbookId !== workbookId || !lines.every(({ kind }) => kind in INVERSES)) {
      throw Refused.notFound('write to take back');
    }
    if (first.accountId !== writer.id) {
      throw Refused.forbidden('Only one’s own writes can be taken back.');
    }
    const { sheetId } = first;
    const asked = ['undo', undoes, String(anyway)];
    const order = { sheetId, writeId, writer, door: 'undo', asked, undoes };
    const { changes } = await this.path.write(order, (site) => ({
      decisions: [...lines]
        .reverse()
        .flatMap((line) => INVERSES[line.kind]?.(line, this.scene(site, line), anyway) ?? []),
    }));
    return {
      writeId,
      seq: changes.at(-1)?.seq ?? 0,
      records: changes.flatMap((change) => {
        const sheet = this.catalog.sheet(change.sheetId);
        const landed = sheet && landedOf(change, sheet);
        return landed ? [landed] : [];
      }),
      rows: [],
      refused: [],
    };
  }

  private scene(site: WriteSite, { sheetId, recordId }: PastChange): Scene {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    const id = recordId ?? '';
    return {
      ...site,
      sheet,
      record: site.model.has(id) ? site.model.get(id) : undefined,
      row: site.rows.get(id),
      onWire: (cells) => cells && wireCells(cells as Cells, sheet),
      binnedRecord: () => this.records.binned<StoredRecord>(site.database, 'record', sheetId, id),
      binnedRow: () => this.records.binned<FreeRow>(site.database, 'free_row', sheetId, id),
    };
  }

  private entry(write: OwnWrite | undefined): UndoEntry | null {
    if (!write) return null;
    const name = this.catalog.sheet(write.sheetId)?.name ?? '';
    return { writeId: write.writeId, says: `${sayWrite(write)} in ${name}` };
  }
}

/** One's own writes parted into those that stand and those taken back, the oldest first. */
export function undoStacks<W extends Pick<OwnWrite, 'writeId' | 'undoes' | 'kind'>>(
  writes: readonly W[],
): { done: W[]; undone: W[] } {
  const done: W[] = [];
  let undone: W[] = [];
  for (const write of writes) {
    if (!(write.kind in INVERSES)) continue;
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
  readonly row: FreeRow | undefined;
  readonly binnedRecord: () => StoredRecord | undefined;
  readonly binnedRow: () => FreeRow | undefined;
  /** A record's cells as the API tells them. */
  readonly onWire: (cells: object | null) => object | null;
}

type Inverse = (line: PastChange, scene: Scene, anyway: boolean) => Decision;

/** What takes each kind of change back. */
const INVERSES: Partial<Record<ChangeKind, Inverse>> = {
  recordAdded: (line, { record, onWire }, anyway) =>
    removed(unchanged(line, record, anyway, onWire)),
  recordPutBack: (line, { record, onWire }, anyway) =>
    removed(unchanged(line, record, anyway, onWire)),
  recordRemoved: (line, { binnedRecord, onWire }, anyway) =>
    putBack(unchanged(line, binnedRecord(), anyway, onWire)),
  recordChanged: (line, { record, onWire }, anyway) => {
    const stored = unchanged(line, record, anyway, onWire);
    const before = (line.before ?? {}) as Cells;
    return changed(stored, anyway ? onlyWhatItChanged(stored.cells, line) : before);
  },
  recordMoved: (line, { record }, anyway) =>
    moved(unchanged(line, record, anyway), (line.before as { orderKey: number }).orderKey),
  rowAdded: (line, { row }, anyway) => rowRemoved(unchanged(line, row, anyway)),
  rowPutBack: (line, { row }, anyway) => rowRemoved(unchanged(line, row, anyway)),
  rowRemoved: (line, { binnedRow }, anyway) => rowPutBack(unchanged(line, binnedRow(), anyway)),
  rowChanged: (line, { row }, anyway) => {
    const stored = unchanged(line, row, anyway);
    const before = (line.before ?? {}) as FreeCells;
    return rowChanged(stored, anyway ? onlyWhatItChanged(stored.cells, line) : before);
  },
  rowMoved: (line, { row }, anyway) =>
    rowMoved(
      unchanged(line, row, anyway),
      (line.before as { orderKey: { value: number } }).orderKey.value,
    ),
  sheetChanged: (line, { sheet }, anyway) => {
    guard(JSON.stringify(shapeOf(sheet)) === JSON.stringify(line.after) || anyway, sheet);
    return reshaped(sheet, line.before as SheetShape);
  },
  namesChanged: (line, { sheet }, anyway) => {
    const { names } = sheet.workbook;
    guard(JSON.stringify(names) === JSON.stringify(line.after) || anyway, sheet);
    return { part: 'names', before: names, after: line.before as RangeName[] };
  },
};

/** What a change touched, as it is now; refused when someone changed it since. */
function unchanged<T extends { readonly revision: number; readonly cells: object }>(
  line: PastChange,
  row: T | undefined,
  anyway: boolean,
  /** How its cells are told. */
  shown: (cells: object | null) => object | null = (cells) => cells,
): T {
  if (!row) throw Refused.notFound('row any more');
  const left = line.after ?? line.before;
  // Another revision may hold the same again, after others were taken back.
  const same = row.revision === line.revision || sorted(row.cells) === sorted(left ?? {});
  if (!same && !anyway) throw Refused.changedSince({ yours: shown(left), now: shown(row.cells) });
  return row;
}

/** The cells of a row as one text, the same whatever order they were written in. */
function sorted(cells: object): string {
  return JSON.stringify(Object.entries(cells).sort(([a], [b]) => (a < b ? -1 : 1)));
}

function guard(holds: boolean, { name }: SheetFacts): void {
  if (holds) return;
  throw Refused.conflict(
    'changedSince',
    `The columns, rows or names of ${name} were changed since. Take it back anyway, or leave it.`,
  );
}

/** The cells as they are now, but those that a change wrote as they were before it. */
function onlyWhatItChanged<C extends Cells | FreeCells>(now: C, { before, after }: PastChange): C {
  const [was, became] = [before ?? {}, after ?? {}] as Record<string, unknown>[];
  const cells: Record<string, unknown> = { ...now };
  for (const id of new Set([...Object.keys(was ?? {}), ...Object.keys(became ?? {})])) {
    if (JSON.stringify(was?.[id]) === JSON.stringify(became?.[id])) continue;
    if (was?.[id] === undefined) Reflect.deleteProperty(cells, id);
    else cells[id] = was[id];
  }
  return cells as C;
}

const SAYS: Partial<Record<ChangeKind, string>> = {
  recordAdded: 'record added',
  recordChanged: 'record changed',
  recordRemoved: 'record removed',
  recordPutBack: 'record put back',
  recordMoved: 'record moved',
  rowAdded: 'row put in',
  rowChanged: 'row changed',
  rowRemoved: 'row removed',
  rowPutBack: 'row put back',
  rowMoved: 'row moved',
  sheetChanged: 'change of columns or look',
  namesChanged: 'change of names',
};

function sayWrite({ kind, lines }: OwnWrite): string {
  const says = SAYS[kind] ?? 'change';
  return lines === 1 ? says : sayCountOf(lines, 'change');
}
