import { Box, Button, HStack, Stack, Table, Text } from '@chakra-ui/react';
import type {
  RowsAdded,
  RowsChecked,
  RowsOfFile,
  SheetView,
  UploadView,
  WorkbookView,
} from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { isTyped, sayCount, sayCountOf } from '@varn/core';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { request, requestText, sayError } from '../api/client';
import { newId } from '../api/newId';
import { useSheet } from '../api/resources';
import { Choice, Tick } from '../ui/controls';
import { keepFile } from '../ui/keepFile';
import { Notice } from '../ui/Notice';
import { Waiting } from '../ui/Waiting';
import { FileTable } from './FileTable';
import { pairedByHeading, type Pairs } from './pairing';

interface AddToSheetProps {
  readonly upload: UploadView;
  readonly workbook: WorkbookView;
  readonly sheetId: string;
}

/** Rows of a file for a sheet there is: its columns are paired, its rows held against the rules. */
export function AddToSheet(props: AddToSheetProps) {
  const { data: sheet, error } = useSheet(props.sheetId);
  if (sheet) return <Pairing key={`${sheet.id} ${props.upload.id}`} {...props} sheet={sheet} />;
  return error ? <Notice tone="refuse">{sayError(error)}</Notice> : <Waiting />;
}

function Pairing({ upload, workbook, sheet }: AddToSheetProps & { sheet: SheetView }) {
  const { mutate } = useSWRConfig();
  const navigate = useNavigate();
  const [pairs, setPairs] = useState<Pairs>(() => pairedByHeading(upload, sheet));
  const [checked, setChecked] = useState<RowsChecked | null>(null);
  const [takesAsked, setTakesAsked] = useState(false);
  const [without, setWithout] = useState<ReadonlySet<number>>(new Set());
  const [failure, setFailure] = useState('');
  const [isBusy, setBusy] = useState(false);
  // Sent again after no answer, it is the same write.
  const [writeId, setWriteId] = useState(newId);
  const order = orderOf(upload, sheet, pairs, { takesAsked, without });
  const headings = new Map(sheet.columns.map(({ id, heading }) => [id, `goes into ${heading}`]));
  const unpaired = new Set(
    upload.columns.flatMap(({ index }) => ((pairs[index] ?? '') === '' ? [index] : [])),
  );
  const offered = sheet.columns.filter((column) => isTyped(column) && column.kind !== 'file');

  const pair = (index: number, columnId: string): void => {
    setPairs({ ...pairs, [index]: columnId });
    setChecked(null);
  };
  const run = async (work: () => Promise<void>): Promise<void> => {
    setBusy(true);
    setFailure('');
    try {
      await work();
    } catch (error) {
      setFailure(sayError(error));
    }
    setBusy(false);
  };
  const check = (): Promise<void> =>
    run(async () => {
      setWriteId(newId());
      setChecked(await request<RowsChecked>('POST', paths.checkRows(upload.id), order));
    });
  const add = (): Promise<void> =>
    run(async () => {
      await request<RowsAdded>('POST', paths.addRows(upload.id), { ...order, writeId });
      await Promise.all([mutate(paths.workbook(workbook.id)), mutate(paths.sheet(sheet.id))]);
      await navigate(addresses.sheet(workbook.id, sheet.id));
    });
  const takeAway = (): Promise<void> =>
    run(async () => {
      const csv = await requestText('POST', paths.heldRows(upload.id), order);
      keepFile(`${sheet.name} left out.csv`, csv);
    });

  const taken = checked ? checked.passing + (takesAsked ? checked.asked : 0) : 0;
  const left = checked ? checked.records - taken : 0;
  return (
    <Stack gap="4">
      <Box as="ul" listStyleType="none" maxW="720px">
        {upload.columns.map(({ index, letters, heading }) => (
          <HStack as="li" key={index} py="1" gap="3" wrap="wrap" align="end">
            <Text fontFamily="mono" color="ink.soft" w="28px" pb="2">
              {letters}
            </Text>
            <Choice
              label={heading}
              value={pairs[index] ?? ''}
              options={[
                ['', 'Left out'],
                ...offered.map(({ id, heading: name }) => [id, `goes into ${name}`] as const),
              ]}
              onChange={(columnId) => pair(index, columnId)}
            />
          </HStack>
        ))}
      </Box>
      <HStack gap="3" wrap="wrap">
        <Button
          size="sm"
          variant={checked ? 'outline' : 'solid'}
          disabled={isBusy || order.columns.length === 0}
          onClick={() => void check()}
        >
          Check {sayCountOf(upload.records - without.size, 'row')}
        </Button>
        {checked && taken > 0 && (
          <Button size="sm" disabled={isBusy} onClick={() => void add()}>
            Add {sayCountOf(taken, 'row')} to {sheet.name}
          </Button>
        )}
        {checked && left > 0 && (
          <Button size="sm" variant="outline" disabled={isBusy} onClick={() => void takeAway()}>
            Take away the {sayCountOf(left, 'row')} left out
          </Button>
        )}
      </HStack>
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
      <Box role="status">
        {checked && (
          <Text>
            {sayCountOf(checked.passing, 'row')} {checked.passing === 1 ? 'passes' : 'pass'},{' '}
            {sayCount(checked.asked)} {checked.asked === 1 ? 'is' : 'are'} asked about,{' '}
            {sayCount(checked.refused)} {checked.refused === 1 ? 'is' : 'are'} refused. Nothing is
            stored yet.
          </Text>
        )}
      </Box>
      {checked && checked.asked > 0 && (
        <Tick
          label={
            checked.asked === 1
              ? 'Accept the row that was asked about'
              : `Accept the ${sayCountOf(checked.asked, 'row')} that were asked about`
          }
          checked={takesAsked}
          onChange={setTakesAsked}
        />
      )}
      {checked && checked.held.length > 0 && <Held checked={checked} />}
      <FileTable
        upload={upload}
        leftOut={unpaired}
        without={without}
        onWithout={(rows) => {
          setWithout(rows);
          setChecked(null);
        }}
        head={({ index, letters, heading }) => (
          <>
            <Text fontFamily="mono" color="ink.soft" fontSize="12px">
              {letters}
            </Text>
            <Text fontWeight="600">{heading}</Text>
            <Text color="ink.soft" fontSize="12px">
              {headings.get(pairs[index] ?? '') ?? 'Left out'}
            </Text>
          </>
        )}
      />
    </Stack>
  );
}

/** Values that are not taken as they are, each with why. */
function Held({ checked }: { checked: RowsChecked }) {
  return (
    <Box overflowX="auto" bg="leaf" borderWidth="1px" borderRadius="8px" maxH="50vh" tabIndex={0}>
      <Table.Root size="sm" aria-label="Rows that are not taken as they are">
        <Table.Header>
          <Table.Row bg="leaf">
            {['Row', 'Column', 'Value', 'Why'].map((name) => (
              <Table.ColumnHeader key={name}>{name}</Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {checked.held.map(({ row, heading, text, message, strictness }, n) => (
            <Table.Row key={n} bg="leaf">
              <Table.Cell fontFamily="mono">{sayCount(row)}</Table.Cell>
              <Table.Cell>{heading}</Table.Cell>
              <Table.Cell fontFamily="mono">{text}</Table.Cell>
              <Table.Cell>
                {strictness === 'ask' ? 'Asked about. ' : ''}
                {message}
              </Table.Cell>
            </Table.Row>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}

function orderOf(
  upload: UploadView,
  sheet: SheetView,
  pairs: Pairs,
  { takesAsked, without }: { takesAsked: boolean; without: ReadonlySet<number> },
): RowsOfFile {
  const { encoding, delimiter, headingRow, headingRows, keepTotals, guarded } = upload;
  const columns = upload.columns.flatMap(({ index, decimal, dateOrder }) => {
    const columnId = pairs[index] ?? '';
    return columnId === '' ? [] : [{ index, columnId, decimal, dateOrder }];
  });
  const reading = { encoding, delimiter, headingRow, headingRows, keepTotals, guarded };
  return {
    sheetId: sheet.id,
    ...reading,
    columns,
    ...(without.size > 0 && { without: [...without] }),
    ...(takesAsked && { takesAsked }),
  };
}
