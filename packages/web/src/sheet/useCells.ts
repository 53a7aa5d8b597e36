import type { EditCells, Landed, RecordView, RowsView, SheetView, Written } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { sayCountOf, type Strictness } from '@varn/core';
import { useCallback, useLayoutEffect, useRef, useState } from 'react';
import { useSWRConfig } from 'swr';
import { newId } from '../api/newId';
import { ApiRefusal, get, request, sayError, type NoAnswer } from '../api/client';
import { applyOwn, readAnew } from '../api/events';
import { useWrites } from '../api/useWrites';
import {
  cellKey,
  keptOf,
  planOf,
  type Kept,
  type Looked,
  type Placed,
  type Plan,
  type Unplaced,
  writtenOf,
} from './cells/plan';
import { lineAt, type Lines } from './lines';
import type { Spot } from './selection';

/** What stands in a cell until it is written, or because it could not be. */
export interface Mark {
  readonly is: 'sending' | 'refused';
  readonly text: string;
  readonly message: string;
  /** What is only asked about is written when it is put in once more as it is. */
  readonly strictness: Strictness;
  readonly span?: readonly [number, number];
}

export interface Outcome {
  readonly written: number;
  readonly unplaced: readonly Unplaced[];
  /** Why nothing was written at all. */
  readonly failure: string;
  /** Cells of records that were not written, of a write of several cells. */
  readonly kept?: readonly Kept[];
  /** Something else to be told. */
  readonly note?: string;
  /** Why forms would not take some of what was written. */
  readonly doubts?: readonly string[];
}

export interface Cells {
  /** Why a write waits to be sent again. */
  readonly stuck: NoAnswer | null;
  /** What is on its way or was refused, by the cell's key. */
  readonly marks: ReadonlyMap<string, Mark>;
  readonly outcome: Outcome | null;
  /** Writes texts into cells, as one write. */
  readonly put: (placed: readonly Placed[], lines: Lines, looked: Looked) => Promise<Outcome>;
  /** Writes records that were not written before, as far as they are taken now. */
  readonly place: (edits: Pick<EditCells, 'records' | 'added'>) => Promise<Written>;
  /** Drops what was refused in a cell. */
  readonly drop: (key: string) => void;
  /** Sends another write of the grid in turn; gives whether it was carried out. */
  readonly send: <T>(request: (sheet: SheetView) => Promise<T>) => Promise<T | null>;
  readonly say: (outcome: Outcome | null) => void;
  /** Lets something have its turn among the writes, after those that were begun before. */
  readonly inTurn: <T>(work: () => Promise<T>) => Promise<T>;
}

interface Prepared {
  readonly plan: Plan;
  /** All that was looked at for it, read where it was not at hand. */
  readonly looked: Looked;
  readonly body: EditCells;
}

/** Cells marked one by one while they are sent; more would cost more than they tell. */
const MOST_MARKED = 500;
const MOST_ROWS = 1000;

export const spotKey = ({ line, column }: Spot): string => `${line}:${column}`;

/** Reads records of a view that are not at hand. */
export async function readRecords(
  sheetId: string,
  view: string,
  from: number,
  to: number,
): Promise<RecordView[]> {
  const records: RecordView[] = [];
  while (from + records.length < to) {
    const start = from + records.length;
    const count = Math.min(MOST_ROWS, to - start);
    const page = await get<RowsView>(paths.rows(sheetId, start, count, view));
    // Some may have gone since.
    if (page.records.length === 0) break;
    records.push(...page.records);
  }
  return records;
}

/** Writes of one sheet's grid, in turn, and what became of them. */
export function useCells(sheet: SheetView, view: string): Cells {
  const { mutate } = useSWRConfig();
  const { stuck, inTurn } = useWrites();
  const [marks, setMarks] = useState<ReadonlyMap<string, Mark>>(new Map());
  const [outcome, setOutcome] = useState<Outcome | null>(null);
  const latest = useRef(sheet);
  useLayoutEffect(() => {
    if (sheet.revision >= latest.current.revision) latest.current = sheet;
  }, [sheet]);
  // What own writes made of revisions, before events have told of it.
  const revisions = useRef(new Map<string, number>());

  const mark = useCallback((changes: readonly (readonly [string | null, Mark | null])[]): void => {
    if (changes.length === 0) return;
    setMarks((held) => {
      const next = new Map(held);
      for (const [key, state] of changes) {
        if (key === null) continue;
        if (state) next.set(key, state);
        else next.delete(key);
      }
      return next;
    });
  }, []);

  const brought = useCallback(
    (written: Written): void => {
      const { workbookId, id: sheetId } = latest.current;
      for (const { recordId, revision } of written.records) {
        revisions.current.set(recordId, revision);
      }
      for (const { rowId, revision } of written.rows) revisions.current.set(rowId, revision);
      if (written.records.length > MOST_MARKED || written.rows.length > 0) {
        readAnew(mutate, paths.workbook(workbookId), paths.sheet(sheetId), paths.undo(workbookId));
      }
      if (written.records.length > MOST_MARKED) return;
      for (const landed of written.records) {
        applyOwn(mutate, workbookId, eventOf(landed, written.writeId));
      }
    },
    [mutate],
  );

  const prepare = useCallback(
    async (placed: readonly Placed[], lines: Lines, looked: Looked): Promise<Prepared> => {
      const all = await readMissing(placed, lines, looked, latest.current.id, view);
      const newest = <T extends { id: string; revision: number }>(row: T | undefined) =>
        row && { ...row, revision: Math.max(row.revision, revisions.current.get(row.id) ?? 0) };
      const plan = planOf(placed, lines, latest.current, {
        record: (position) => newest(all.record(position)),
        row: (number) => newest(all.row(number)),
      });
      const { revision } = latest.current;
      return {
        plan,
        looked: all,
        body: { writeId: newId(), revision, partly: true, ...plan.edits },
      };
    },
    [view],
  );

  const carryOut = useCallback(async ({ plan, body }: Prepared): Promise<Written> => {
    if (Object.keys(plan.edits).length === 0) return nothingWritten(body.writeId);
    return request<Written>('POST', paths.cells(latest.current.id), body);
  }, []);

  /** Reads the sheet again, so that the next write knows of rows and columns that came or went. */
  const refresh = useCallback(async (): Promise<void> => {
    const { id, workbookId } = latest.current;
    try {
      latest.current = await get<SheetView>(paths.sheet(id));
    } catch (error) {
      // Deleted by the write itself: there is none to write into any more.
      if (error instanceof ApiRefusal && error.refusal.statusCode === 404) return;
      throw error;
    }
    await mutate(paths.sheet(id), latest.current, { revalidate: false });
    await mutate(
      (key) =>
        typeof key === 'string' &&
        key !== paths.sheet(id) &&
        [paths.sheet(id), paths.undo(workbookId), paths.names(workbookId)].some((path) =>
          key.startsWith(path),
        ),
    );
  }, [mutate]);

  const put = useCallback(
    async (placed: readonly Placed[], lines: Lines, looked: Looked): Promise<Outcome> => {
      const isMarked = placed.length <= MOST_MARKED;
      // As it is now: by the time of its turn other rows may stand on these lines.
      const then = lookedAtOnce(placed, lines, looked);
      const keyOf = (spot: Spot, seen: Looked): string | null =>
        cellKey(spot, lines, latest.current, seen);
      const keys = isMarked ? placed.map((each) => keyOf(each, then)) : [];
      const markAll = (as: (text: string) => Mark | null): void =>
        mark(keys.map((key, n) => [key, as(placed[n]?.text ?? '')]));
      markAll((text) => ({ is: 'sending', text, message: '', strictness: 'refuse' }));
      // Prepared once, when its turn comes: sent again, it is the same write.
      let prepared: Prepared | null = null;
      let result: Outcome;
      try {
        const [{ plan, looked: seen }, written] = await inTurn(
          async () => {
            prepared ??= await prepare(placed, lines, then);
            return [prepared, await carryOut(prepared)] as const;
          },
          async ([, { rows }]) => {
            if (rows.length > 0) await refresh();
          },
        );
        brought(written);
        const texts = new Map(placed.map((each) => [spotKey(each), each.text]));
        const refused = written.refused.map((refusal): Unplaced => {
          const spot = plan.spotOf(refusal);
          const { message, strictness, from, to } = refusal;
          const span = from !== undefined && to !== undefined && { span: [from, to] as const };
          return { ...spot, text: texts.get(spotKey(spot)) ?? '', message, strictness, ...span };
        });
        const unplaced = [...plan.unplaced, ...refused];
        const doubts = (written.notes ?? []).map(({ message }) => message);
        result = {
          written: writtenOf(plan, written),
          unplaced,
          failure: '',
          ...(placed.length > 1 && { kept: keptOf(plan, written) }),
          ...(doubts.length > 0 && { doubts }),
        };
        markAll(() => null);
        mark(
          unplaced
            .slice(0, MOST_MARKED)
            .map((each) => [
              keyOf(each, seen),
              refusedMark(each.text, each.message, each.strictness, each.span),
            ]),
        );
      } catch (error) {
        result = { written: 0, unplaced: [], failure: sayFailure(error) };
        const { id } = latest.current;
        readAnew(mutate, paths.sheet(id));
        markAll((text) => refusedMark(text, result.failure, 'refuse'));
        setOutcome(result);
        return result;
      }
      setOutcome(placed.length > 1 || result.unplaced.length > 0 || result.doubts ? result : null);
      return result;
    },
    [brought, carryOut, inTurn, mark, mutate, prepare, refresh],
  );

  const place = useCallback(
    async (edits: Pick<EditCells, 'records' | 'added'>): Promise<Written> => {
      const writeId = newId();
      const { id, revision } = latest.current;
      const body: EditCells = { writeId, revision, partly: true, ...edits };
      const written = await inTurn(() => request<Written>('POST', paths.cells(id), body));
      brought(written);
      return written;
    },
    [brought, inTurn],
  );

  const send = useCallback(
    async <T>(write: (sheet: SheetView) => Promise<T>): Promise<T | null> => {
      try {
        const answer = await inTurn(() => write(latest.current), refresh);
        setOutcome(null);
        readAnew(mutate, paths.workbook(latest.current.workbookId));
        return answer;
      } catch (error) {
        setOutcome({ written: 0, unplaced: [], failure: sayFailure(error) });
        return null;
      }
    },
    [inTurn, mutate, refresh],
  );

  return {
    stuck,
    marks,
    outcome,
    put,
    place,
    send,
    drop: useCallback((key: string) => mark([[key, null]]), [mark]),
    say: setOutcome,
    inTurn,
  };
}

function refusedMark(
  text: string,
  message: string,
  strictness: Strictness,
  span?: readonly [number, number],
): Mark {
  return { is: 'refused', text, message, strictness, ...(span && { span }) };
}

const nothingWritten = (writeId: string): Written => ({
  writeId,
  seq: 0,
  records: [],
  rows: [],
  refused: [],
});

function sayFailure(error: unknown): string {
  if (error instanceof ApiRefusal && error.refusal.code === 'changedSince') {
    return 'Someone else changed this in the meantime. Look at the value now, and enter yours again if you still want it.';
  }
  return sayError(error);
}

const eventOf = (landed: Landed, writeId: string) => ({
  seq: landed.seq,
  kind: landed.kind,
  sheetId: landed.sheetId,
  writeId,
  by: '',
  landed,
});

/** What is at hand of the rows a write is about, kept as it is now. */
function lookedAtOnce(placed: readonly Placed[], lines: Lines, looked: Looked): Looked {
  const records = new Map<number, ReturnType<Looked['record']>>();
  const rows = new Map<number, ReturnType<Looked['row']>>();
  for (const each of placed) {
    const what = lineAt(lines, each.line);
    if (what.is === 'record') records.set(what.position, looked.record(what.position));
    if (what.is === 'free') rows.set(what.row, looked.row(what.row));
  }
  return { record: (position) => records.get(position), row: (number) => rows.get(number) };
}

/** Reads the records a write is about that are not at hand. */
async function readMissing(
  placed: readonly Placed[],
  lines: Lines,
  looked: Looked,
  sheetId: string,
  view: string,
): Promise<Looked> {
  const positions = placed.flatMap((each) => {
    const line = lineAt(lines, each.line);
    return line.is === 'record' ? [line.position] : [];
  });
  const missing = positions.filter((position) => !looked.record(position));
  if (missing.length === 0) return looked;
  const from = missing.reduce((a, b) => Math.min(a, b));
  const to = missing.reduce((a, b) => Math.max(a, b)) + 1;
  const records = await readRecords(sheetId, view, from, to);
  return {
    ...looked,
    record: (position) => looked.record(position) ?? records[position - from],
  };
}

/** "3 cells written." and what was not. */
export function sayOutcome({ written, unplaced, failure, note, doubts = [] }: Outcome): string {
  if (note !== undefined) return note;
  if (failure !== '') return `Nothing written. ${failure}`;
  const done = written > 0 ? `${sayCountOf(written, 'cell')} written.` : 'Nothing written.';
  if (unplaced.length === 0) return [done, ...doubts].join(' ');
  const [only] = unplaced;
  const which = unplaced.length === 1 && only ? `: ${only.message}` : '.';
  return `${done} ${sayCountOf(unplaced.length, 'cell')} could not be placed${which}`;
}
