import { Box, Button, Flex, HStack, Input, Stack, Text } from '@chakra-ui/react';
import type { HistoryEntry, HistoryView, WorkbookView, Written } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { sayCount } from '@varn/core';
import { useState } from 'react';
import { useParams } from 'react-router';
import useSWR, { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { ApiRefusal, get, request, sayError } from '../api/client';
import { readAnew } from '../api/events';
import { newId } from '../api/newId';
import { useWorkbook } from '../api/resources';
import { Arriving } from '../frame/Arriving';
import { Shell } from '../frame/Shell';
import { PlaceBar } from '../keys/PlaceBar';
import { Choice } from '../ui/controls';
import { Notice } from '../ui/Notice';
import { UnderwayNote } from '../ui/UnderwayNote';
import { TextLink } from '../ui/TextLink';
import { sayMoment } from '../ui/sayMoment';
import { sayNotes } from '../ui/sayNotes';
import { Waiting } from '../ui/Waiting';

interface Wanted {
  readonly person: string;
  readonly sheet: string;
  readonly door: string;
  /** A day as the browser writes it, ISO 8601; '' for any. */
  readonly day: string;
}
const ALL: Wanted = { person: '', sheet: '', door: '', day: '' };
const DAY_MS = 86_400_000;

function queryOf({ person, sheet, door, day }: Wanted): string {
  const query = new URLSearchParams();
  if (person !== '') query.set('person', person);
  if (sheet !== '') query.set('sheet', sheet);
  if (door !== '') query.set('door', door);
  const start = day === '' ? NaN : new Date(`${day}T00:00`).getTime();
  if (!Number.isNaN(start)) {
    query.set('from', `${start}`);
    query.set('to', `${start + DAY_MS}`);
  }
  return query.toString();
}

/** Who did what in the workbook, the newest first; what is one's own can be taken back. */
export function HistoryPage() {
  const { workbookId = '' } = useParams();
  const { data: workbook, error } = useWorkbook(workbookId);
  if (!workbook) return <Arriving trail={[{ label: 'History' }]} error={error} />;
  return <History workbook={workbook} />;
}

function History({ workbook }: { workbook: WorkbookView }) {
  const [wanted, setWanted] = useState(ALL);
  const query = queryOf(wanted);
  const path = `${paths.history(workbook.id)}?${query}`;
  const { data, error } = useSWR<HistoryView, unknown>(path, {
    keepPreviousData: true,
    revalidateOnMount: true,
    revalidateIfStale: true,
  });
  const [older, setOlder] = useState<{ of: string; view: HistoryView } | null>(null);
  const [failure, setFailure] = useState('');
  const more = older?.of === path ? older.view : null;
  const entries = [...(data?.entries ?? []), ...(more?.entries ?? [])];
  const next = more ? more.next : data?.next;
  const readOlder = async (): Promise<void> => {
    try {
      const view = await get<HistoryView>(`${path}&before=${next ?? 0}`);
      const before = more?.entries ?? [];
      setOlder({ of: path, view: { ...view, entries: [...before, ...view.entries] } });
      setFailure('');
    } catch (reason) {
      setFailure(sayError(reason));
    }
  };
  const forms = workbook.sheets.flatMap((sheet) => sheet.forms);
  return (
    <Shell
      trail={[{ label: workbook.name, to: addresses.contents(workbook.id) }, { label: 'History' }]}
      bar={<PlaceBar place="History" actions={[]} />}
    >
      <Stack p={{ base: '4', md: '6' }} maxW="980px" gap="4">
        <Flex gap="4" wrap="wrap" align="end">
          <Choice
            label="Person"
            value={wanted.person}
            options={[
              ['', 'Anyone'],
              ...(data?.people ?? []).map(({ id, name }) => [id, name] as const),
            ]}
            onChange={(person) => setWanted({ ...wanted, person })}
          />
          <Choice
            label="Sheet"
            value={wanted.sheet}
            options={[
              ['', 'Any sheet'],
              ...workbook.sheets.map(({ id, name }) => [id, name] as const),
            ]}
            onChange={(sheet) => setWanted({ ...wanted, sheet })}
          />
          <Choice
            label="Through"
            value={wanted.door}
            options={[
              ['', 'Anything'],
              ['grid', 'The grid'],
              ['matches', 'All matches'],
              ['values', 'Values stored'],
              ['replace', 'Replace'],
              ['file', 'A file'],
              ['history', 'History'],
              ['undo', 'Undo'],
              ...forms.map(({ id, name }) => [id, name] as const),
            ]}
            onChange={(door) => setWanted({ ...wanted, door })}
          />
          <Box as="label">
            <Text fontSize="sm" fontWeight="500" mb="1">
              Day
            </Text>
            <Input
              type="date"
              size="sm"
              bg="leaf"
              borderColor="edge"
              value={wanted.day}
              onChange={({ target }) => setWanted({ ...wanted, day: target.value })}
            />
          </Box>
          {query !== '' && (
            <Button size="sm" variant="outline" onClick={() => setWanted(ALL)}>
              Show all
            </Button>
          )}
        </Flex>
        {(failure !== '' || error !== undefined) && (
          <Notice tone="refuse">{failure || sayError(error)}</Notice>
        )}
        {!data && error === undefined && <Waiting />}
        {data && entries.length === 0 && (
          <Text color="ink.soft">
            {query === ''
              ? 'Nothing has been written in this workbook yet.'
              : 'Nothing matches. Remove a condition.'}
          </Text>
        )}
        <Stack as="ol" listStyleType="none" gap="0">
          {entries.map((entry) => (
            <Entry key={entry.seq} entry={entry} workbook={workbook} />
          ))}
        </Stack>
        {next !== undefined && (
          <Button size="sm" variant="outline" alignSelf="start" onClick={() => void readOlder()}>
            Older
          </Button>
        )}
      </Stack>
    </Shell>
  );
}

function Entry({ entry, workbook }: { entry: HistoryEntry; workbook: WorkbookView }) {
  const { at, by, door, sheet, sheetId, says, recordId, row, takenBack } = entry;
  const [told, setTold] = useState('');
  const form = workbook.sheets
    .find(({ id }) => id === sheetId)
    ?.forms.find(({ version }) => version > 0);
  const to =
    recordId !== undefined && form
      ? addresses.record(workbook.id, form.id, recordId)
      : `${addresses.sheet(workbook.id, sheetId)}${row === undefined ? '' : `?row=${row}`}`;
  return (
    <Flex as="li" gap="3" py="2" borderTopWidth="1px" wrap="wrap" align="baseline">
      <Text color="ink.soft" fontFamily="mono" fontSize="12.5px" minW="150px">
        {sayMoment(at, workbook.locale, workbook.timeZone)}
      </Text>
      <Text minW="0" flex="1" textDecoration={takenBack ? 'line-through' : undefined}>
        <Text as="span" fontWeight="600">
          {by}
        </Text>
        {`: ${says} in `}
        <TextLink to={to}>
          {sheet}
          {row !== undefined && `, row ${sayCount(row)}`}
        </TextLink>
      </Text>
      <Text color="ink.soft" fontSize="13px">
        {door}
        {takenBack && ' · undone'}
      </Text>
      {entry.mayTakeBack && <TakeBack entry={entry} workbookId={workbook.id} onTold={setTold} />}
      {told !== '' && (
        <Box role="status" flexBasis="100%">
          <Notice tone="ask">{told}</Notice>
        </Box>
      )}
    </Flex>
  );
}

interface TakeBackProps {
  readonly entry: HistoryEntry;
  readonly workbookId: string;
  /** What rules say of what came back; '' where they say nothing. */
  readonly onTold: (says: string) => void;
}

/** Takes back a write of one's own; where others changed the same since, it says so and asks. */
function TakeBack({ entry, workbookId, onTold }: TakeBackProps) {
  const { mutate } = useSWRConfig();
  const [contested, setContested] = useState('');
  const [failure, setFailure] = useState('');
  const [running, setRunning] = useState<string | null>(null);
  const takeBack = async (anyway: boolean): Promise<void> => {
    if (running !== null) return;
    const body = { writeId: newId(), undoes: entry.writeId, ...(anyway && { anyway }) };
    setRunning(body.writeId);
    try {
      const written = await request<Written>('POST', paths.undo(workbookId), body);
      onTold(sayNotes(written).trim());
      readAnew(mutate, paths.workbook(workbookId), '/api/sheets/', '/api/forms/');
    } catch (error) {
      const isContested = error instanceof ApiRefusal && error.refusal.code === 'changedSince';
      if (isContested && !anyway) setContested(error.refusal.message);
      else setFailure(sayError(error));
    } finally {
      setRunning(null);
    }
  };
  return (
    <HStack gap="2" wrap="wrap">
      {contested === '' ? (
        <Button size="xs" variant="outline" minH="26px" onClick={() => void takeBack(false)}>
          Undo
        </Button>
      ) : (
        <>
          <Notice tone="ask">{contested}</Notice>
          <Button size="xs" variant="outline" minH="26px" onClick={() => void takeBack(true)}>
            Undo mine anyway
          </Button>
          <Button size="xs" variant="outline" minH="26px" onClick={() => setContested('')}>
            Cancel
          </Button>
        </>
      )}
      {running !== null && <UnderwayNote workbookId={workbookId} writeId={running} />}
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
    </HStack>
  );
}
