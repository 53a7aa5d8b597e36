import { Box, Text } from '@chakra-ui/react';
import type { FormEntry } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { mayAs } from '@varn/contract/roles';
import { localeFacts, sayCountOf } from '@varn/core';
import { FileUp, PanelRight, SquarePen, SquarePlus } from 'lucide-react';
import { useRef, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { useSWRConfig } from 'swr';
import { request, sayError } from '../api/client';
import { useSheet, useWorkbook } from '../api/resources';
import { addresses } from '../addresses';
import { focusBar } from '../keys/focusBar';
import { PlaceBar, type BarAction } from '../keys/PlaceBar';
import { Notice } from '../ui/Notice';
import { Shell } from '../ui/Shell';
import { Waiting } from '../ui/Waiting';
import { CellNotes } from './CellNotes';
import { Grid, type ActiveCell } from './Grid';
import { TakeAway } from './TakeAway';

const GRID_KEYS = [
  { keys: 'Arrows', does: 'Move from cell to cell' },
  { keys: 'PageUp / PageDown', does: 'Move by a screen' },
  { keys: 'Home / End', does: 'First and last column; with Ctrl first and last record' },
  { keys: 'Escape', does: 'Leave the grid for the bar' },
];

/** A sheet as it stands, and what can be done with it. */
export function SheetPage() {
  const { workbookId = '', sheetId } = useParams();
  const { data: workbook } = useWorkbook(workbookId);
  const { data: sheet, error } = useSheet(sheetId);
  const { mutate } = useSWRConfig();
  const navigate = useNavigate();
  const [failure, setFailure] = useState('');
  const [takingAway, setTakingAway] = useState(false);
  const [active, setActive] = useState<ActiveCell>({ row: 0, column: 0 });
  const [noted, setNoted] = useState(false);
  // One click makes one form, however often the click is sent.
  const writeId = useRef(crypto.randomUUID());

  const makeForm = async (): Promise<void> => {
    if (!sheet) return;
    try {
      const form = await request<FormEntry>('POST', paths.sheetForms(sheet.id), {
        writeId: writeId.current,
      });
      await mutate(paths.workbook(workbookId));
      await navigate(addresses.desk(workbookId, form.id));
    } catch (error_) {
      setFailure(sayError(error_));
    }
  };

  const [form] = sheet?.forms ?? [];
  const actions: BarAction[] = [
    ...(form
      ? [
          {
            id: 'enter',
            label: `Enter: ${form.name}`,
            key: 'e',
            run: () => void navigate(addresses.desk(workbookId, form.id)),
            icon: <SquarePen size={15} aria-hidden />,
            main: true,
          },
        ]
      : []),
    ...(workbook && mayAs(workbook.role, 'analyst')
      ? [
          {
            id: 'makeForm',
            label: 'Make a form of it',
            key: 'm',
            run: () => void makeForm(),
            icon: <SquarePlus size={15} aria-hidden />,
            main: !form,
          },
        ]
      : []),
    {
      id: 'notes',
      label: 'Notes',
      key: 'n',
      run: () => setNoted(!noted),
      icon: <PanelRight size={15} aria-hidden />,
    },
    {
      id: 'takeAway',
      label: 'Take away',
      key: 't',
      run: () => setTakingAway(true),
      icon: <FileUp size={15} aria-hidden />,
    },
  ];

  return (
    <Shell
      trail={[
        { label: workbook?.name ?? 'Workbook', to: addresses.contents(workbookId) },
        { label: sheet?.name ?? 'Sheet' },
      ]}
      bar={<PlaceBar place="Sheet" actions={actions} fixedKeys={GRID_KEYS} compact />}
      margin={
        noted && sheet && workbook ? (
          <CellNotes
            sheet={sheet}
            locale={localeFacts(workbook.locale)}
            {...active}
            onClose={() => {
              setNoted(false);
              focusBar();
            }}
          />
        ) : undefined
      }
      foot={
        <Box as="footer" borderTopWidth="1px" px="5" py="2" flex="none" color="ink.soft">
          {failure ? (
            <Notice tone="stop">{failure}</Notice>
          ) : (
            <Text>
              {sheet
                ? `${sayCountOf(sheet.count, 'record')} in ${sayCountOf(sheet.columns.length, 'column')}`
                : ''}
            </Text>
          )}
        </Box>
      }
    >
      {error ? (
        <Box p="6">
          <Notice tone="stop">{sayError(error)}</Notice>
        </Box>
      ) : null}
      {!sheet && !error && <Waiting />}
      {sheet && workbook && (
        <Grid
          key={sheet.id}
          sheet={sheet}
          locale={localeFacts(workbook.locale)}
          active={active}
          onActive={setActive}
        />
      )}
      {sheet && (
        <TakeAway sheetId={sheet.id} open={takingAway} onClose={() => setTakingAway(false)} />
      )}
    </Shell>
  );
}
