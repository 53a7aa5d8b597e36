import type { SheetView } from '@varn/contract';
import { fromWire, kindOf, type Cells, type Column } from '@varn/core';
import { useSheetLists } from '../../api/lists';
import { offeredFor } from '../../form/offered';
import type { layoutColumns } from '../columnLayout';
import type { FormulaHelp } from '../formula/useFormulaHelp';
import { lineAt } from '../lines';
import type { GridReading, GridWriting } from '../useSheetGrid';
import type { Editing } from '../useEditing';
import { CellEditor } from './CellEditor';
import { HEADING_PX, lineTop, type Geometry, type Seen } from './geometry';

interface EditorProps {
  readonly grid: GridReading;
  readonly writing: GridWriting;
  readonly editing: Editing;
  readonly geometry: Geometry;
  readonly seen: Seen;
  readonly layout: ReturnType<typeof layoutColumns>;
  readonly onHelp: (help: FormulaHelp | null) => void;
}

/** The line in which a cell is typed into, over the cell. */
export function Editor({ grid, writing, editing, geometry, seen, layout, onHelp }: EditorProps) {
  const { sheet, lines, locale } = grid;
  const { spot, text, caret, placed, begun } = editing;
  const left = layout.offsets[spot.column] ?? 0;
  const what = lineAt(lines, spot.line).is;
  const isFree = what === 'free';
  const isHeading = what === 'heading';
  const column = isFree || isHeading ? undefined : sheet.columns[spot.column];
  const { lists } = useSheetLists(sheet.id, sheet.columns);
  const items = column
    ? offeredFor(column, cellsAt(grid, spot.line), byId(sheet), lists, { locale })
    : [];
  return (
    <CellEditor
      key={begun}
      sheet={sheet}
      locale={locale}
      label={`${column?.heading ?? (isHeading ? 'Heading' : 'Cell')} ${grid.addressOf(spot)}`}
      place={{
        left: layout.numberPx + left,
        top: isHeading ? 0 : lineTop(geometry, lines, spot.line),
        width: (layout.offsets[spot.column + 1] ?? left) - left,
        height: geometry.rowPx,
      }}
      text={text}
      caret={caret}
      placed={placed}
      onType={writing.type}
      column={column && kindOf(column).filledBy === 'people' ? column : undefined}
      items={items}
      isFree={isFree}
      above={isLow(editing.spot.line, grid, geometry, seen)}
      onHelp={onHelp}
      onDone={writing.done}
      onCancel={writing.cancel}
    />
  );
}

const byId = ({ columns }: SheetView): ReadonlyMap<string, Column> =>
  new Map(columns.map((column) => [column.id, column]));

/** What the record on a line holds; nothing where none is stored there yet. */
function cellsAt({ lines, recordAt, sheet }: GridReading, line: number): Cells {
  const what = lineAt(lines, line);
  const record = what.is === 'record' ? recordAt(what.position) : undefined;
  if (!record) return {};
  return Object.fromEntries(
    sheet.columns.map((column, n) => [column.id, fromWire(record.cells[n] ?? null, column)]),
  );
}

/** Whether the cell that is typed into stands so low that help is better above it. */
function isLow(line: number, { lines }: GridReading, geometry: Geometry, seen: Seen): boolean {
  const top = lineTop(geometry, lines, line);
  const inBody = line > lines.freeRows ? geometry.freePx + HEADING_PX : 0;
  return top + inBody - seen.top > seen.height * 0.55;
}
