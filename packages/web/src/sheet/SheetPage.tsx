import { Box, Button, HStack, Text } from '@chakra-ui/react';
import type { FormEntry, RenamedItem, SheetView, WorkbookView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { mayAs } from '@varn/contract/roles';
import { showValue, sayCount, sayCountOf, type Column, type LocaleFacts } from '@varn/core';
import {
  FileUp,
  ListTree,
  PanelRight,
  Redo2,
  Search,
  SquarePen,
  SquarePlus,
  Undo2,
} from 'lucide-react';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { useLocation, useNavigate, useParams, useSearchParams } from 'react-router';
import { useSWRConfig } from 'swr';
import { newId } from '../api/newId';
import { request, sayError } from '../api/client';
import { useSheet, useWorkbook } from '../api/resources';
import { addresses } from '../addresses';
import { useBringInTable } from './pastedTable';
import { focusBar } from '../keys/focusBar';
import { PlaceBar, type BarAction } from '../keys/PlaceBar';
import { Notice } from '../ui/Notice';
import { UnderwayNote } from '../ui/UnderwayNote';
import { Arriving } from '../frame/Arriving';
import { Shell } from '../frame/Shell';
import { ContestedWrite } from './ContestedWrite';
import { FindStrip } from './FindStrip';
import { Grid } from './grid/Grid';
import { GRID_KEYS } from './grid/keys';
import { KeptStrip } from './KeptStrip';
import { SheetMargin, type Notes } from './margin/SheetMargin';
import { SelectionMenu } from './SelectionMenu';
import { lineOf } from './lines';
import { CarryOn } from './lists/CarryOn';
import { activeOf, at } from './selection';
import { sheetActions } from './sheetActions';
import { TakeAway } from './TakeAway';
import { sayOutcome, type Outcome } from './useCells';
import { useDeleting } from './useDeleting';
import { useFigures } from './useFigures';
import { useKept } from './useKept';
import { useSheetGrid, type GridState } from './useSheetGrid';
import { useUndo } from './useUndo';
import { PLAIN_VIEW, type OwnView } from './view/sheetView';
import { UsesStrip } from './UsesStrip';
import { ViewStrip } from './ViewStrip';

/** How long it is told that something was done. */
const SAID_MS = 6000;

/** A sheet as it stands, and what can be done with it. */
export function SheetPage() {
  const { workbookId = '', sheetId } = useParams();
  const { data: workbook } = useWorkbook(workbookId);
  const { data: sheet, error } = useSheet(sheetId);
  if (sheet && workbook) return <OpenSheet key={sheet.id} workbook={workbook} sheet={sheet} />;
  return (
    <Arriving
      trail={[
        { label: workbook?.name ?? 'Workbook', to: addresses.contents(workbookId) },
        { label: 'Sheet' },
      ]}
      error={error}
    />
  );
}

function OpenSheet({ workbook, sheet }: { workbook: WorkbookView; sheet: SheetView }) {
  const [view, setView] = useState<OwnView>(PLAIN_VIEW);
  const [notes, setNotes] = useState<Notes | null>(null);
  const [finding, setFinding] = useState(false);
  const [takingAway, setTakingAway] = useState(false);
  const [renamed, setRenamed] = useState<RenamedItem | null>(null);
  const [said, setSaid] = useState<{ text: string; tone: 'refuse' | 'settled' }>();
  useEffect(() => {
    if (said?.tone !== 'settled') return;
    const gone = setTimeout(() => setSaid(undefined), SAID_MS);
    return () => clearTimeout(gone);
  }, [said]);
  const undo = useUndo(workbook.id, workbook.role);
  const feeds = workbook.sheets.some(({ id, feeds: does }) => id === sheet.id && does);
  const makeForm = useMakeForm(workbook.id, sheet.id, (text) => setSaid({ text, tone: 'refuse' }));

  const takeBack = async (again: boolean, anyway = false): Promise<void> => {
    // What was written is said no more once it is taken back.
    grid.cells.say(null);
    const text = await undo.takeBack(again, anyway);
    const isDone = /^(?:Undone|Redone)/.test(text);
    setSaid({ text, tone: isDone ? 'settled' : 'refuse' });
  };
  const grid = useSheetGrid(workbook, sheet, {
    view,
    onTakeBack: takeBack,
    onNotes: () => setNotes('column'),
    onRenamed: setRenamed,
  });
  useRowOfAddress(grid, sheet);
  const kept = useKept(grid.cells);
  const deleting = useDeleting(sheet.id, (error) =>
    setSaid({ text: sayError(error), tone: 'refuse' }),
  );
  const actions = sheetActions(grid, {
    setView,
    openNotes: setNotes,
    askToDelete: deleting.ask,
    bringIn: useBringInTable(workbook.id),
  });

  const bar = barActions({
    workbook,
    sheet,
    grid,
    undo: undo.state,
    makeForm,
    onFind: () => setFinding(true),
    onNotes: () => setNotes(notes === null ? 'cell' : null),
    onTakeAway: () => setTakingAway(true),
  });
  const close = (): void => {
    setFinding(false);
    focusGrid();
  };
  return (
    <Shell
      trail={[{ label: workbook.name, to: addresses.contents(workbook.id) }, { label: sheet.name }]}
      bar={<PlaceBar place="Sheet" actions={bar} fixedKeys={GRID_KEYS} compact />}
      margin={
        notes !== null ? (
          <SheetMargin
            grid={grid}
            workbook={workbook}
            notes={notes}
            onNotes={setNotes}
            setView={setView}
            askToDelete={deleting.ask}
            onClose={() => {
              setNotes(null);
              focusBar();
            }}
          />
        ) : undefined
      }
      foot={
        <Foot grid={grid} onNotes={() => setNotes('cell')}>
          {deleting.asked && (
            <UsesStrip
              asked={deleting.asked}
              onCarryOut={deleting.carryOut}
              onLeave={deleting.leave}
            />
          )}
          {renamed && feeds && mayAs(workbook.role, 'clerk') && (
            <CarryOn workbookId={workbook.id} sheetId={sheet.id} renamed={renamed} />
          )}
          {undo.running !== null && (
            <UnderwayNote workbookId={workbook.id} writeId={undo.running} />
          )}
          {undo.contested ? (
            <ContestedWrite
              contested={undo.contested}
              sheet={sheet}
              locale={grid.locale}
              onAnyway={() => void takeBack(undo.contested?.again ?? false, true)}
              onLeave={undo.leave}
            />
          ) : (
            said && !grid.cells.outcome && <Notice tone={said.tone}>{said.text}</Notice>
          )}
        </Foot>
      }
    >
      <Box display="flex" flexDirection="column" h="full">
        <ViewStrip grid={grid} setView={setView} />
        <KeptStrip grid={grid} kept={kept} />
        {finding && <FindStrip grid={grid} onClose={close} />}
        <Box flex="1" minH="0">
          <Grid grid={grid} writing={grid} />
        </Box>
      </Box>
      <SelectionMenu grid={grid} actions={actions} />
      <TakeAway
        sheetId={sheet.id}
        hasTop={sheet.headingRow > 1}
        open={takingAway}
        onClose={() => setTakingAway(false)}
      />
    </Shell>
  );
}

interface BarDoors {
  readonly workbook: WorkbookView;
  readonly sheet: SheetView;
  readonly grid: GridState;
  readonly undo: ReturnType<typeof useUndo>['state'];
  readonly makeForm: ReturnType<typeof useMakeForm>;
  readonly onFind: () => void;
  readonly onNotes: () => void;
  readonly onTakeAway: () => void;
}

/** What can be done from the bar, by whoever looks at the sheet. */
function barActions(doors: BarDoors): BarAction[] {
  const { workbook, sheet, grid, undo, makeForm } = doors;
  const mayWrite = mayAs(workbook.role, 'clerk');
  const [form] = sheet.forms;
  const actions: (BarAction | false)[] = [
    form !== undefined && {
      id: 'enter',
      label: `Enter: ${form.name}`,
      key: 'e',
      run: () => void makeForm.go(form),
      icon: <SquarePen size={15} aria-hidden />,
      main: true,
    },
    sheet.hasRecords &&
      mayAs(workbook.role, 'analyst') && {
        id: 'makeForm',
        label: 'Make a form',
        key: 'm',
        run: () => void makeForm.make(),
        icon: <SquarePlus size={15} aria-hidden />,
        main: !form,
      },
    mayWrite && {
      id: 'undo',
      label: 'Undo',
      key: 'z',
      isWrite: true,
      run: () => grid.takeBack(false),
      icon: <Undo2 size={15} aria-hidden />,
      brief: true,
      disabled: !undo.undo,
    },
    mayWrite && {
      id: 'redo',
      label: 'Redo',
      key: 'y',
      isWrite: true,
      run: () => grid.takeBack(true),
      icon: <Redo2 size={15} aria-hidden />,
      brief: true,
      disabled: !undo.redo,
    },
    {
      id: 'chosen',
      label: 'Cells',
      key: 'x',
      run: () => grid.openMenu(underBar(), null),
      icon: <ListTree size={15} aria-hidden />,
    },
    {
      id: 'find',
      label: 'Find',
      key: 'f',
      run: doors.onFind,
      icon: <Search size={15} aria-hidden />,
    },
    {
      id: 'notes',
      label: 'Details',
      key: 'i',
      run: doors.onNotes,
      icon: <PanelRight size={15} aria-hidden />,
    },
    mayWrite && {
      id: 'fillDown',
      label: 'Fill down',
      key: 'd',
      run: () => grid.fill('down'),
      isKeyOnly: true,
    },
    mayWrite && {
      id: 'fillRight',
      label: 'Fill right',
      key: 'r',
      run: () => grid.fill('right'),
      isKeyOnly: true,
    },
    (sheet.hasRecords || grid.freeCount > 0) && {
      id: 'takeAway',
      label: 'Take away',
      key: 't',
      run: doors.onTakeAway,
      icon: <FileUp size={15} aria-hidden />,
      brief: true,
    },
  ];
  return actions.filter((each) => each !== false);
}

/** Keys act in the grid again. */
function focusGrid(): void {
  document.querySelector<HTMLElement>('[role=grid]')?.focus();
}

/** Goes to the row that the address names, as after a submit; once each time it is gone to. */
function useRowOfAddress(grid: GridState, { headingRow, columns }: SheetView): void {
  const [search] = useSearchParams();
  const { key } = useLocation();
  const position = Number(search.get('row') ?? 0) - headingRow - 1;
  const of = search.get('column');
  const column = Math.max(
    0,
    columns.findIndex(({ id }) => id === of),
  );
  const done = useRef('');
  useEffect(() => {
    const isThere = position >= 0 || of !== null;
    if (done.current === key || !Number.isInteger(position) || !isThere) return;
    done.current = key;
    // A column alone is gone to by its heading.
    const what =
      position < 0 ? ({ is: 'heading' } as const) : ({ is: 'record', position } as const);
    grid.select(at({ line: lineOf(grid.lines, what), column }));
  }, [grid, position, column, of, key]);
}

/** Makes a form of the sheet, once however often it is asked, and goes to it. */
function useMakeForm(workbookId: string, sheetId: string, onFailure: (text: string) => void) {
  const { mutate } = useSWRConfig();
  const navigate = useNavigate();
  const writeId = useRef(newId());
  const go = (form: FormEntry): unknown => navigate(addresses.desk(workbookId, form.id));
  return {
    go,
    make: async (): Promise<void> => {
      try {
        const body = { writeId: writeId.current };
        const form = await request<FormEntry>('POST', paths.sheetForms(sheetId), body);
        await mutate(paths.workbook(workbookId));
        await go(form);
      } catch (error) {
        onFailure(sayError(error));
      }
    },
  };
}

function underBar(): { x: number; y: number } {
  const button = document.querySelector('[data-action="chosen"]');
  const { left = 0, bottom = 0 } = button?.getBoundingClientRect() ?? {};
  return { x: left, y: bottom };
}

interface FootProps {
  readonly grid: GridState;
  readonly onNotes: () => void;
  readonly children: ReactNode;
}

/** The foot: what became of the last write, figures of what is chosen, how much there is. */
function Foot({ grid, onNotes, children }: FootProps) {
  const { sheet, cells, draft, selection, locale } = grid;
  const figures = useFigures(grid);
  const { outcome, stuck, say } = cells;
  const isSettled = outcome !== null && toneOf(outcome) === 'settled';
  useEffect(() => {
    if (!isSettled) return;
    const gone = setTimeout(() => say(null), SAID_MS);
    return () => clearTimeout(gone);
  }, [isSettled, outcome, say]);
  const active = activeOf(selection);
  const reason = grid.reasonOf(active);
  const column = sheet.columns[active.column];
  return (
    <HStack
      as="footer"
      borderTopWidth="1px"
      px="5"
      py="2"
      flex="none"
      gap="5"
      wrap="wrap"
      minH="38px"
    >
      <Box role="status" color="ink.soft">
        {stuck && (
          <Notice tone="ask">
            Not written yet. {stuck.message} {stuck.meanwhile}
          </Notice>
        )}
        {!stuck && outcome && (
          <HStack>
            <Notice tone={toneOf(outcome)}>{sayOutcome(outcome)}</Notice>
            {outcome.unplaced.length > 0 && (
              <Button size="xs" variant="outline" onClick={onNotes}>
                See which
              </Button>
            )}
            <Button size="xs" variant="ghost" onClick={() => cells.say(null)}>
              Close
            </Button>
          </HStack>
        )}
        {!stuck && draft.draft.above && (
          <Text>The new record goes above row {sayCount(draft.draft.above.gridRow)}.</Text>
        )}
        {!stuck && draft.draft.failure !== '' && (
          <Notice tone="refuse">Not written: {draft.draft.failure}</Notice>
        )}
        {!stuck && !outcome && reason !== '' && (
          <Notice tone="refuse">
            {grid.addressOf(active)}: {reason}
          </Notice>
        )}
        {!stuck && children}
      </Box>
      {Object.keys(draft.draft.verdicts).length > 0 && (
        <HStack>
          <Notice tone="refuse">
            The new record is not written:{' '}
            {Object.values(draft.draft.verdicts)
              .map(({ message, strictness }) =>
                strictness === 'ask' ? `${message} Enter it again to keep it.` : message,
              )
              .join(' ')}
            {draft.refused > 0 && ` ${sayCountOf(draft.refused, 'other')} waits behind it.`}
          </Notice>
          <Button size="xs" variant="outline" onClick={draft.forget}>
            Discard it
          </Button>
        </HStack>
      )}
      <Box flex="1" />
      <Text color="ink.soft" fontFamily="mono">
        {figures
          ? sayFigures(figures, column, locale)
          : sheet.hasRecords
            ? `${sayCountOf(sheet.count, 'record')} in ${sayCountOf(sheet.columns.length, 'column')}`
            : grid.addressOf(active)}
      </Text>
    </HStack>
  );
}

function toneOf({ failure, unplaced, doubts }: Outcome): 'refuse' | 'ask' | 'settled' {
  if (failure || unplaced.length > 0) return 'refuse';
  return doubts ? 'ask' : 'settled';
}

function sayFigures(
  { filled, numbers, sum, mean, least, most }: NonNullable<ReturnType<typeof useFigures>>,
  column: Column | undefined,
  locale: LocaleFacts,
): string {
  if (numbers === 0) return sayCountOf(filled, 'filled cell');
  const isDate = column?.kind === 'date' || column?.kind === 'moment';
  const plain: Column = { id: '', heading: '', kind: 'number', settings: { grouping: true } };
  const figure = (value = 0, as = plain): string =>
    as.kind === 'number'
      ? showValue(Number(value.toPrecision(12)), as, locale)
      : showValue(value, as, locale);
  const bound = isDate ? column : plain;
  const parts = [
    `count ${sayCount(filled)}`,
    ...(isDate ? [] : [`sum ${figure(sum)}`, `mean ${figure(mean)}`]),
    `minimum ${figure(least, bound)}`,
    `maximum ${figure(most, bound)}`,
  ];
  return parts.join(' · ');
}
