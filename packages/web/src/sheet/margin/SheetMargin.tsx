import { Tabs } from '@chakra-ui/react';
import type { WorkbookView } from '@varn/contract';
import { Margin } from '../../ui/Margin';
import { activeOf } from '../selection';
import type { Deleting } from '../useDeleting';
import type { GridState } from '../useSheetGrid';
import type { OwnView } from '../view/sheetView';
import { CellPart } from './CellPart';
import { ColumnPart } from './ColumnPart';
import { NamesPart } from './NamesPart';
import { SheetPart } from './SheetPart';
import { ViewPart } from './ViewPart';

export const NOTES = ['cell', 'column', 'view', 'names', 'sheet'] as const;
export type Notes = (typeof NOTES)[number];

const LABELS: Readonly<Record<Notes, string>> = {
  cell: 'Cell',
  column: 'Column',
  view: 'View',
  names: 'Names',
  sheet: 'Sheet',
};

interface SheetMarginProps {
  readonly grid: GridState;
  readonly workbook: WorkbookView;
  readonly notes: Notes;
  readonly onNotes: (notes: Notes) => void;
  readonly setView: (view: OwnView) => void;
  readonly onClose: () => void;
  readonly askToDelete: Deleting['ask'];
}

/** The notes beside a sheet: on the active cell, its column, named ranges, the sheet itself. */
export function SheetMargin({
  grid,
  workbook,
  notes,
  onNotes,
  setView,
  onClose,
  askToDelete,
}: SheetMarginProps) {
  const { column } = activeOf(grid.selection);
  return (
    <Margin title="Details" onClose={onClose}>
      <Tabs.Root
        value={notes}
        onValueChange={({ value }) => onNotes(value as Notes)}
        size="sm"
        lazyMount
        unmountOnExit
      >
        <Tabs.List>
          {NOTES.map((each) => (
            <Tabs.Trigger key={each} value={each} px="2">
              {LABELS[each]}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        <Tabs.Content value="cell">
          <CellPart grid={grid} />
        </Tabs.Content>
        <Tabs.Content value="column">
          <ColumnPart grid={grid} index={column} />
        </Tabs.Content>
        <Tabs.Content value="view">
          <ViewPart grid={grid} index={column} setView={setView} />
        </Tabs.Content>
        <Tabs.Content value="names">
          <NamesPart grid={grid} askToDelete={askToDelete} />
        </Tabs.Content>
        <Tabs.Content value="sheet">
          <SheetPart grid={grid} workbook={workbook} askToDelete={askToDelete} />
        </Tabs.Content>
      </Tabs.Root>
    </Margin>
  );
}
