import type { FreeRowsView, FreeRowView, RecordView, RowsView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import useSWR from 'swr';
import { PAGE_ROWS } from '../api/events';

const noRecords: RowsView = { from: 0, count: 0, records: [] };
const noRows: FreeRowsView = { from: 0, count: 0, rows: [] };

/** How often results are asked for that are being computed, should their event be missed. */
const COMPUTING_MS = 3000;

/** Keeps what a window showed while the next one is on its way. */
const STAY = {
  keepPreviousData: true,
  refreshInterval: (held?: { computing?: boolean }) =>
    held?.computing === true ? COMPUTING_MS : 0,
};

export interface RecordWindow {
  /** A record by its position; `undefined` while it is on its way. */
  readonly at: (position: number) => RecordView | undefined;
  /** All that are at hand around the window. */
  readonly held: () => readonly RecordView[];
  /** The grid's row it stands in, from 1, where a view has the records in another order. */
  readonly gridRowAt: (position: number) => number | undefined;
  /** How many records the view has; `undefined` until it is known. */
  readonly count: number | undefined;
  readonly totals: RowsView['totals'];
  /** Whether computed cells stand as last known, and are being computed. */
  readonly computing: boolean;
  /** Why nothing came: a condition of the view that is none, the network. */
  readonly error: unknown;
}

/** The records from a position on: two pages cover any window of the grid. */
export function useRecords(sheetId: string, first: number, view: string): RecordWindow {
  const page = Math.floor(first / PAGE_ROWS) * PAGE_ROWS;
  const { data: here, error } = useSWR<RowsView, unknown>(
    paths.rows(sheetId, page, PAGE_ROWS, view),
    STAY,
  );
  const { data: after } = useSWR<RowsView, unknown>(
    paths.rows(sheetId, page + PAGE_ROWS, PAGE_ROWS, view),
    STAY,
  );
  const pageOf = (position: number): RowsView =>
    [here, after].find(
      (each) => each && position >= each.from && position < each.from + PAGE_ROWS,
    ) ?? noRecords;
  return {
    at: (position) => pageOf(position).records[position - pageOf(position).from],
    held: () => [here, after].flatMap((each) => each?.records ?? []),
    gridRowAt: (position) => pageOf(position).gridRows?.[position - pageOf(position).from],
    count: here?.count,
    totals: here?.totals,
    computing: here?.computing === true || after?.computing === true,
    error,
  };
}

export interface FreeWindow {
  readonly at: (row: number) => FreeRowView | undefined;
  /** All that are at hand around the window. */
  readonly held: () => readonly FreeRowView[];
  readonly count: number | undefined;
  readonly computing: boolean;
}

/** The rows outside of the records, by number from 1, around a window. */
export function useFreeRows(sheetId: string, first: number): FreeWindow {
  const page = Math.floor(first / PAGE_ROWS) * PAGE_ROWS;
  const { data: here } = useSWR<FreeRowsView, unknown>(
    paths.freeRows(sheetId, page, PAGE_ROWS),
    STAY,
  );
  const { data: after } = useSWR<FreeRowsView, unknown>(
    paths.freeRows(sheetId, page + PAGE_ROWS, PAGE_ROWS),
    STAY,
  );
  const pageOf = (position: number): FreeRowsView =>
    [here, after].find(
      (each) => each && position >= each.from && position < each.from + PAGE_ROWS,
    ) ?? noRows;
  return {
    at: (row) => pageOf(row - 1).rows[row - 1 - pageOf(row - 1).from],
    held: () => [here, after].flatMap((each) => each?.rows ?? []),
    count: here?.count,
    computing: here?.computing === true,
  };
}
