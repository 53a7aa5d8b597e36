import type { FreeRowView } from '@varn/contract';
import { useMemo } from 'react';
import { useRecent } from '../../api/recent';
import { rowKey } from '../cells/plan';
import { rowsKept } from '../scroll';
import { activeOf, boxesOf, chosenOn } from '../selection';
import type { Mark } from '../useCells';
import type { GridReading, GridWriting } from '../useSheetGrid';
import { lineTop } from './geometry';
import { blankBelow, DraftLine, FreeRow, RecordRow, type RowProps } from './rows';
import { SPARE_ROWS, type GridView } from './useGridView';

const BLANK_ROW: FreeRowView = { id: '', revision: 0, cells: [] };

interface LinesProps {
  readonly ids: string;
  readonly grid: GridReading;
  readonly writing: GridWriting | null;
  readonly view: GridView;
}

/** The rows outside of the records that are in view. */
export function FreeLines({ ids, grid, writing, view }: LinesProps) {
  const marks = useMarksByRow(writing?.cells.marks);
  const { free, rowPx, freeLines } = view;
  const [first, end] = freeLines;
  const kept = rowsKept(view.seen.height, SPARE_ROWS, rowPx) + 1;
  const common = rowProps(ids, grid, view);
  // Below the last row that was written all are blank.
  const rowAt = (number: number): FreeRowView | undefined =>
    number > grid.lines.freeRows
      ? undefined
      : free.count !== undefined && number > free.count
        ? BLANK_ROW
        : free.at(number);
  const rows = [];
  for (let line = first; line < end; line += 1) {
    const row = free.at(line + 1);
    rows.push(
      <FreeRow
        key={line % kept}
        {...common(line, line * rowPx, line + 1)}
        row={row}
        blank={blankBelow(row, (n) => rowAt(line + 1 + n))}
        columns={grid.sheet.columns}
        marks={marks.get(rowKey(row, line + 1))}
      />,
    );
  }
  return rows;
}

/** The records that are in view, and the line of the record that is begun. */
export function BodyLines({ ids, grid, writing, view }: LinesProps) {
  const recent = useRecent();
  const marks = useMarksByRow(writing?.cells.marks);
  const { sheet, lines } = grid;
  const { records, rowPx, geometry, bodyLines } = view;
  const [first, end] = bodyLines;
  // A row that leaves the view lends its elements to the one that enters: as many keys as rows.
  const kept = rowsKept(view.seen.height, SPARE_ROWS, rowPx) + 1;
  const common = rowProps(ids, grid, view);
  const rows = [];
  for (let position = first; position < end; position += 1) {
    const line = lines.freeRows + 1 + position;
    const top = lineTop(geometry, lines, line);
    const gridRow = records.gridRowAt(position) ?? sheet.headingRow + 1 + position;
    if (position < lines.records) {
      const record = records.at(position);
      rows.push(
        <RecordRow
          key={position % kept}
          {...common(line, top, gridRow)}
          record={record}
          marks={record && marks.get(record.id)}
          faces={grid.faces}
          recent={record !== undefined && recent.has(record.id)}
        />,
      );
    } else if (writing) {
      const { draft, begun } = writing.draft;
      rows.push(
        <DraftLine
          key="draft"
          {...common(line, top, sheet.headingRow + 1 + position)}
          columns={sheet.columns}
          answers={draft.answers}
          verdicts={draft.verdicts}
          begun={begun}
        />,
      );
    }
  }
  return rows;
}

/** What every row is told of the grid around it. */
function rowProps(ids: string, grid: GridReading, view: GridView) {
  const active = activeOf(grid.selection);
  const boxes = boxesOf(grid.selection);
  return (line: number, top: number, gridRow: number): RowProps => ({
    ids,
    line,
    gridRow,
    top,
    height: view.rowPx,
    layout: view.layout,
    firstColumn: view.firstColumn,
    endColumn: view.endColumn,
    locale: grid.locale,
    activeColumn: active.line === line ? active.column : -1,
    chosen: chosenOn(boxes, line),
  });
}

const NO_MARKS: ReadonlyMap<string, Mark> = new Map();

/** Marks by the row they are in, and in it by column. */
function useMarksByRow(
  marks: ReadonlyMap<string, Mark> = NO_MARKS,
): ReadonlyMap<string, ReadonlyMap<string, Mark>> {
  return useMemo(() => {
    const byRow = new Map<string, Map<string, Mark>>();
    for (const [key, mark] of marks) {
      const [row = '', column = ''] = key.split('|');
      const inRow = byRow.get(row) ?? new Map<string, Mark>();
      byRow.set(row, inRow.set(column, mark));
    }
    return byRow;
  }, [marks]);
}
