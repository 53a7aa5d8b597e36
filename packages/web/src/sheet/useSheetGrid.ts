import type { RenamedItem, SheetView, WorkbookView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { request } from '../api/client';
import { useSheetLists } from '../api/lists';
import { fittedWidth } from './columnWidths';
import { useAtHand, type AtHand } from './useAtHand';
import { useCells, type Cells } from './useCells';
import { useClipboard, type ClipboardActs } from './useClipboard';
import { useDraft, type DraftRow } from './useDraft';
import { useEditing, type EditingActs } from './useEditing';
import { useSelecting, type Selecting } from './useSelecting';
import type { OwnView } from './view/sheetView';

/** What a grid is written with: what is typed, pasted, undone. */
export interface GridWriting
  extends Omit<EditingActs, 'pointAt' | 'pointTo' | 'pointed'>, ClipboardActs {
  readonly cells: Cells;
  readonly draft: DraftRow;
  readonly resize: (index: number, width: number) => void;
  /** Makes columns as wide as what they show in the rows at hand. */
  readonly fitWidths: (from: number, to: number) => void;
  readonly takeBack: (again: boolean) => void;
}

/** A grid that is looked at and chosen in. */
export type GridReading = AtHand & Selecting;

/** A sheet's grid: what is chosen and typed in it, and all that can be done there. */
export type GridState = GridReading & GridWriting;

interface Doors {
  readonly view: OwnView;
  readonly onTakeBack: (again: boolean) => Promise<void>;
  /** Opens the details of a column. */
  readonly onNotes: () => void;
  readonly onRenamed: (renamed: RenamedItem) => void;
}

export function useSheetGrid(
  workbook: WorkbookView,
  sheet: SheetView,
  { view, onTakeBack, onNotes, onRenamed }: Doors,
): GridState {
  const atHand = useAtHand(workbook, sheet, view);
  // What cells offer is at hand before one of them is typed into.
  useSheetLists(sheet.id, sheet.columns);
  const cells = useCells(sheet, atHand.viewParameter);
  const draft = useDraft(sheet, cells.inTurn);
  const selecting = useSelecting(atHand.lines, atHand.columns, draft);
  const { pointAt, pointTo, pointed, ...editing } = useEditing({
    atHand,
    selecting,
    cells,
    draft,
    onNotes,
    onRename: (columnId, heading) =>
      void cells.send(({ id, revision }) =>
        request('PATCH', paths.column(id, columnId), { heading, revision }),
      ),
    onRenamed,
  });
  const { selection } = selecting;
  const setWidths = (widths: readonly (readonly [index: number, width: number])[]): void => {
    const named = widths.flatMap(([index, width]) => {
      const id = sheet.columns[index]?.id ?? sheet.looseColumns[index - sheet.columns.length];
      return id === undefined ? [] : [[id, width] as const];
    });
    if (named.length === 0) return;
    void cells.send(({ id, revision, look }) =>
      request('PATCH', paths.sheet(id), {
        revision,
        look: { ...look, widths: { ...look.widths, ...Object.fromEntries(named) } },
      }),
    );
  };
  const clipboard = useClipboard({ atHand, selection, cells, draft });
  return {
    ...atHand,
    ...selecting,
    ...editing,
    ...clipboard,
    cells,
    draft,
    // While a formula is typed, the pointer chooses what it is to read.
    mouseDown: (event, spot) => {
      if (!pointAt(event, spot)) selecting.mouseDown(event, spot);
    },
    drawTo: (spot) => {
      if (!pointTo(spot)) selecting.drawTo(spot);
    },
    mouseUp: () => {
      pointed();
      selecting.mouseUp();
    },
    resize: (index, width) => setWidths([[index, width]]),
    fitWidths: (from, to) => {
      const indexes = Array.from({ length: to - from + 1 }, (_, n) => from + n);
      setWidths(
        indexes.map((index) => {
          const heading = sheet.columns[index]?.heading ?? '';
          return [index, fittedWidth(heading, atHand.textsOf(index))];
        }),
      );
    },
    // What was begun before is written first: it may be what is to be taken back.
    takeBack: (again) => void cells.inTurn(() => onTakeBack(again)),
  };
}
