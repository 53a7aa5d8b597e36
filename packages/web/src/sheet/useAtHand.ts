import type { FreeRowView, RecordView, SheetView, WorkbookView } from '@varn/contract';
import { LAST_FREE_ROW } from '@varn/contract/limits';
import { mayAs } from '@varn/contract/roles';
import { columnLetters, localeFacts, serialNow, type LocaleFacts } from '@varn/core';
import { useCallback, useMemo, useRef, useState } from 'react';
import { freeFace, recordFace, type FaceGround } from './cells/faces';
import { readMarks } from './cells/marks';
import { columnCount } from './columnLayout';
import { lineAt, type Lines } from './lines';
import type { Spot } from './selection';
import { useFreeRows, useRecords, type FreeWindow, type RecordWindow } from './useRows';
import { viewFor, viewParameter, type OwnView } from './view/sheetView';

/** Blank rows to type into under those of a sheet without records. */
const BLANK_ROWS = 40;
const LEAST_FREE_ROWS = 60;

/** What is at hand of the rows in view. */
export interface Window {
  readonly records: RecordWindow;
  readonly free: FreeWindow;
}

/** A sheet as its grid shows it: its lines, and what is at hand of them. */
export interface AtHand {
  readonly sheet: SheetView;
  readonly locale: LocaleFacts;
  readonly faces: FaceGround;
  readonly lines: Lines;
  /** Rows outside of the records that there are, blank ones below them not counted. */
  readonly freeCount: number;
  readonly columns: number;
  readonly view: OwnView;
  readonly viewParameter: string;
  readonly viewError: unknown;
  readonly mayEditRecords: boolean;
  /** Whether one may change rows outside of the records, columns and formulas. */
  readonly mayShape: boolean;
  /** Tells what is at hand of the lines in view, as they are drawn. */
  readonly show: (window: Window) => void;
  readonly recordAt: (position: number) => RecordView | undefined;
  readonly rowAt: (number: number) => FreeRowView | undefined;
  /** What a column shows in the rows at hand. */
  readonly textsOf: (column: number) => string[];
  readonly addressOf: (spot: Spot) => string;
}

/** Lays out the lines of a sheet in a view of one's own. */
export function useAtHand(workbook: WorkbookView, sheet: SheetView, asked: OwnView): AtHand {
  const locale = localeFacts(workbook.locale);
  const [now] = useState(() => serialNow(Date.now(), workbook.timeZone));
  const { marks: held } = sheet.look;
  const faces = useMemo((): FaceGround => {
    const byId = new Map(sheet.columns.map((each) => [each.id, each]));
    const marks = readMarks(held, sheet.columns, { locale, now });
    return { columns: sheet.columns, byId, locale, now, marks };
  }, [sheet.columns, held, locale, now]);
  const view = viewFor(asked, sheet);
  const parameter = viewParameter(view);
  const mayEditRecords = mayAs(workbook.role, 'clerk');
  const first = useRecords(sheet.id, 0, parameter);
  const freeCount = useFreeRows(sheet.id, 0).count ?? 0;
  const lines = useMemo((): Lines => {
    const { hasRecords, headingRow, count } = sheet;
    const blank = Math.max(LEAST_FREE_ROWS, freeCount + BLANK_ROWS);
    return {
      hasRecords,
      freeRows: hasRecords ? headingRow - 1 : Math.min(LAST_FREE_ROW, blank),
      records: parameter === '' ? count : (first.count ?? 0),
      draft: hasRecords && mayEditRecords && parameter === '',
    };
  }, [sheet, freeCount, parameter, first.count, mayEditRecords]);

  const window = useRef<Window | null>(null);
  return {
    sheet,
    locale,
    faces,
    lines,
    freeCount,
    columns: columnCount(sheet),
    view,
    viewParameter: parameter,
    viewError: first.error,
    mayEditRecords,
    mayShape: mayAs(workbook.role, 'analyst'),
    show: useCallback((shown) => {
      window.current = shown;
    }, []),
    recordAt: (position) => window.current?.records.at(position),
    rowAt: (number) => window.current?.free.at(number),
    textsOf: (column) => {
      const records = window.current?.records.held() ?? [];
      const free = window.current?.free.held() ?? [];
      return [
        ...records.map(({ cells }) => recordFace(cells, column, faces).text),
        ...free.map(({ cells }) => freeFace(cells[column] ?? null, locale).text),
      ];
    },
    addressOf: ({ line, column }) => {
      const what = lineAt(lines, line);
      const row =
        what.is === 'record'
          ? (window.current?.records.gridRowAt(what.position) ?? line + 1)
          : line + 1;
      return `${columnLetters(column)}${row}`;
    },
  };
}
