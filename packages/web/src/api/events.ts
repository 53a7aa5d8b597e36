import type {
  ChangeEvent,
  ColumnView,
  FormView,
  Landed,
  ListsEvent,
  RecalculatedEvent,
  RowsView,
  SheetView,
  WorkbookView,
} from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useEffect, useState } from 'react';
import { useSWRConfig, type ScopedMutator } from 'swr';
import { get } from './client';
import { formAfter, recordOf, sheetAfter, workbookAfter, type Told } from './applyEvent';
import { amend, readAgain } from './held';
import { applyLists, readListsAnew } from './lists';
import { markRecent } from './recent';
import { useSession } from './resources';

const REOPEN_MS = 2000;

/**
 * Follows a workbook's changes, from the last one its view knew of, and keeps what was read of
 * it true. The browser resumes a broken stream by itself; a refused one is opened again here.
 *
 * @returns whether it does not follow until one comes back to the window: newer ones go before it
 */
export function useWorkbookEvents(
  workbookId: string | undefined,
  after: number | undefined,
): boolean {
  const [gaveWay, setGaveWay] = useState(false);
  const { mutate } = useSWRConfig();
  const personId = useSession().data?.person?.id;
  const ready = after !== undefined && personId !== undefined;
  useEffect(() => {
    if (workbookId === undefined || after === undefined || personId === undefined) return;
    let seq = after;
    let reopening: ReturnType<typeof setTimeout> | undefined;
    let source: EventSource;
    const open = (): void => {
      source = new EventSource(`${paths.events(workbookId)}?after=${seq}`);
      source.onmessage = ({ data }: MessageEvent<string>) => {
        const event = JSON.parse(data) as ChangeEvent;
        if (event.seq <= seq) return;
        seq = event.seq;
        // One's own may have been written in another window.
        if (event.personId === personId) applyOwn(mutate, workbookId, event);
        else apply(mutate, workbookId, event);
      };
      source.addEventListener('recalculated', ({ data }: MessageEvent<string>) => {
        applyResults(mutate, JSON.parse(data) as RecalculatedEvent);
      });
      source.addEventListener('lists', ({ data }: MessageEvent<string>) => {
        applyLists(mutate, (JSON.parse(data) as ListsEvent).changes);
      });
      source.addEventListener('open', () => readListsAnew(mutate));
      source.addEventListener('reload', ({ lastEventId }) => {
        seq = Number(lastEventId);
        void mutate(() => true);
      });
      source.addEventListener('gaveWay', () => {
        source.close();
        setGaveWay(true);
        addEventListener('focus', comeBack, { once: true });
      });
      source.onerror = () => {
        if (source.readyState === EventSource.CLOSED) reopening = setTimeout(open, REOPEN_MS);
      };
    };
    const comeBack = (): void => {
      setGaveWay(false);
      open();
    };
    open();
    return () => {
      clearTimeout(reopening);
      removeEventListener('focus', comeBack);
      source.close();
    };
    // `after` only starts the stream; later views of the workbook know of what it told.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [workbookId, ready, personId, mutate]);
  return gaveWay;
}

/** Brings a write of one's own into what was read, from its answer, which may come first. */
export function applyOwn(mutate: ScopedMutator, workbookId: string, event: Told): void {
  readAnew(mutate, paths.undo(workbookId));
  apply(mutate, workbookId, event);
}

/** Brings one change into what was read. */
export function apply(mutate: ScopedMutator, workbookId: string, event: Told): void {
  const { landed, sheetId, kind } = event;
  if (!landed) {
    readAnew(mutate, ...touchedBy(event, workbookId));
    return;
  }
  const is = (path: string) => (held: string) => held === path;
  amend<WorkbookView>(mutate, is(paths.workbook(workbookId)), (held) => workbookAfter(held, event));
  amend<FormView>(mutate, isForm, (held) => formAfter(held, event));
  amend<SheetView>(mutate, is(paths.sheet(sheetId)), (held) => sheetAfter(held, event));
  if (kind !== 'recordRemoved') markRecent(landed.recordId);
  // Whoever has the record open, its history, the bin, or what breaks rules sees what became of it.
  readAnew(
    mutate,
    paths.record(sheetId, landed.recordId),
    paths.today(sheetId),
    paths.history(workbookId),
    paths.bin(workbookId),
    paths.columns(sheetId),
  );
  applyToRows(mutate, event);
}

/** A draft holds a form with more around it; whoever lays it out reads it anew. */
const isForm = (path: string): boolean => /^\/api\/forms\/[^/]+$/.test(path);

/** What is read anew when a change is told of without what it changed; by the start of its path. */
function touchedBy({ sheetId, kind }: Told, workbookId: string): string[] {
  const sheet = paths.sheet(sheetId);
  // Cells above the heading: nothing but themselves, and what formulas make of them.
  if (kind === 'rowChanged') return [`${sheet}/free-rows`];
  return [paths.workbook(workbookId), sheet, '/api/forms/'];
}

/** Formulas gave other results. */
function applyResults(mutate: ScopedMutator, { free, records }: RecalculatedEvent): void {
  amend<FormView>(mutate, isForm, (held) => {
    const follows = held.sheet.columns.some(isFollowed);
    if (follows && records.includes(held.sheet.id)) void readLast(mutate, held);
    return held;
  });
  readAnew(
    mutate,
    ...free.map((id) => `${paths.sheet(id)}/free-rows`),
    ...records.map((id) => `${paths.sheet(id)}/rows`),
  );
}

/** Reads what is computed of the last records, which the desk shows under its form. */
async function readLast(mutate: ScopedMutator, { id, sheet, last }: FormView): Promise<void> {
  const path = paths.rows(sheet.id, last.from, Math.max(1, last.records.length));
  // Without an answer what stands there stays; the next results are told of again.
  const read = await get<RowsView>(path).catch(() => null);
  if (!read) return;
  const found = new Map(read.records.map((record) => [record.id, record]));
  amend<FormView>(
    mutate,
    (held) => held === paths.form(id),
    (form) => {
      const records = form.last.records.map((record) => {
        const fresh = found.get(record.id);
        return fresh && fresh.revision >= record.revision ? fresh : record;
      });
      return { ...form, last: { ...form.last, records } };
    },
  );
}

/** How long what is to be read anew is gathered: many changes in a row are read once. */
const GATHER_MS = 40;
const gathered = new Set<string>();

/** Reads anew what begins with these paths, a moment later. */
export function readAnew(mutate: ScopedMutator, ...starts: string[]): void {
  if (gathered.size === 0) {
    setTimeout(() => {
      const now = [...gathered];
      gathered.clear();
      readAgain(mutate, (path) => now.some((start) => isUnder(path, start)));
    }, GATHER_MS);
  }
  starts.forEach((start) => gathered.add(start));
}

const isUnder = (key: string, start: string): boolean =>
  key.startsWith(start) && (start.endsWith('/') || /^(?:$|[/?])/.test(key.slice(start.length)));

/** Windows of rows: an appended or changed record is put in; when rows shift they are read anew. */
function applyToRows(mutate: ScopedMutator, { landed, sheetId }: Told): void {
  if (!landed) return;
  const rows = `${paths.sheet(sheetId)}/rows`;
  const isView = (path: string): boolean => path.includes('&view=');
  const appended = landed.kind === 'recordAdded';
  amend<RowsView>(
    mutate,
    (path) => path.startsWith(rows) && isView(path),
    (held) => {
      // Where it stands in a view, and whether it is in it still, only the server can tell.
      readAnew(mutate, rows);
      return held;
    },
  );
  amend<SheetView>(
    mutate,
    (path) => path === paths.sheet(sheetId),
    (sheet) => {
      const position = landed.row - sheet.headingRow - 1;
      const atEnd = appended && position === landed.before;
      if (!atEnd && landed.kind !== 'recordChanged') readAnew(mutate, rows);
      else {
        amend<RowsView>(
          mutate,
          (path) => path.startsWith(rows) && !isView(path),
          (held) => withRecord(held, position, landed, sheet),
        );
        // What is computed of the record, only the server can tell.
        if (hasTotals(sheet) || sheet.columns.some(isFollowed)) readAnew(mutate, rows);
      }
      return sheet;
    },
  );
}

/** The window a page of rows asked for may be longer than what there was to give. */
export const PAGE_ROWS = 200;

function withRecord(rows: RowsView, position: number, landed: Landed, sheet: SheetView): RowsView {
  const count = landed.after;
  const at = position - rows.from;
  if (at < 0 || at > rows.records.length || at >= PAGE_ROWS) return { ...rows, count };
  const held = rows.records[at];
  const { id, cells, ...rest } = recordOf(landed, sheet);
  const shown = sheet.columns.map((column, n) =>
    isFollowed(column) && held?.id === id ? (held.cells[n] ?? null) : (cells[n] ?? null),
  );
  return {
    ...rows,
    count,
    records: rows.records.toSpliced(at, held ? 1 : 0, { id, ...rest, cells: shown }),
  };
}

/** Whether a column's values are computed when they are read, so that no write tells of them. */
const isFollowed = ({ kind, settings }: ColumnView): boolean =>
  kind === 'computed' && settings.follows === true;

const hasTotals = ({ look }: SheetView): boolean => Object.keys(look.totals ?? {}).length > 0;
