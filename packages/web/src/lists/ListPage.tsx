import { Box, Button, HStack, Stack, Text } from '@chakra-ui/react';
import type {
  ListDetailView,
  ListTroubleView,
  SheetView,
  UnlistedView,
  WorkbookView,
} from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { mayAs } from '@varn/contract/roles';
import { inQuotes, questionAddress, sayCount, sayCountOf, type ListSettings } from '@varn/core';
import { useState, type ReactNode } from 'react';
import { useParams } from 'react-router';
import useSWR, { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { get, request, sayError } from '../api/client';
import { readAnew } from '../api/events';
import { newId } from '../api/newId';
import { useSheet, useWorkbook } from '../api/resources';
import { Arriving } from '../frame/Arriving';
import { Shell } from '../frame/Shell';
import { PlaceBar } from '../keys/PlaceBar';
import { ListFields } from '../sheet/lists/ListFields';
import { columnSource, fedSettings, headingOf } from '../sheet/lists/sources';
import { Notice } from '../ui/Notice';
import { TextLink } from '../ui/TextLink';
import { sayMoment } from '../ui/sayMoment';
import { Part, sayCounts, Troubles, Use } from './parts';
import { useValuesChange, type ValuesChanging } from '../sheet/lists/useValuesChange';
import { ValuesAsked } from '../sheet/lists/ValuesAsked';

const DID = { came: 'came', gone: 'left', renamed: 'was renamed to' } as const;

/** One list: what it offers, what is wrong and how to mend it, what it feeds, what happened to it. */
export function ListPage() {
  const { workbookId = '', sheetId = '', columnId = '' } = useParams();
  const { data: workbook, error } = useWorkbook(workbookId);
  const { data: sheet, error: lost } = useSheet(sheetId);
  const path = paths.list(sheetId, columnId);
  const { data: detail, error: failed } = useSWR<ListDetailView, unknown>(path, {
    revalidateOnMount: true,
    revalidateIfStale: true,
    keepPreviousData: true,
  });
  const column = sheet?.columns.find(({ id }) => id === columnId);
  if (!workbook || !sheet || !detail || !column) {
    return <Arriving trail={[{ label: 'Lists' }]} error={error ?? lost ?? failed} />;
  }
  return <List key={columnId} {...{ workbook, sheet, detail, columnId }} />;
}

interface ListProps {
  readonly workbook: WorkbookView;
  readonly sheet: SheetView;
  readonly detail: ListDetailView;
  readonly columnId: string;
}

function List({ workbook, sheet, detail, columnId }: ListProps) {
  const { mutate } = useSWRConfig();
  const [failure, setFailure] = useState('');
  const [isFeeding, setFeeding] = useState(false);
  const changing = useValuesChange(workbook.id, sheet.id);
  const { entry, items, unlisted, history } = detail;
  const isAnalyst = mayAs(workbook.role, 'analyst');
  const column = sheet.columns.find(({ id }) => id === columnId);
  const title = `${column?.heading ?? ''} in ${sheet.name}`;
  const act = async (work: () => Promise<unknown>): Promise<void> => {
    try {
      await work();
      setFailure('');
      readAnew(
        mutate,
        paths.workbook(workbook.id),
        '/api/sheets/',
        '/api/forms/',
        paths.lists(workbook.id),
      );
    } catch (error) {
      setFailure(sayError(error));
    }
  };
  const feed = (list: ListSettings | undefined): void => {
    const settings = fedSettings(column?.settings ?? {}, list);
    void act(() =>
      request('PATCH', paths.column(sheet.id, columnId), { settings, revision: sheet.revision }),
    );
  };
  const cureOf = (trouble: ListTroubleView): ReactNode => {
    const { proposed } = trouble;
    if (proposed && isAnalyst) {
      return (
        <Button size="sm" mt="2" variant="outline" onClick={() => feed(proposed)}>
          Store {columnSource(proposed.source)?.heading} instead, shown with{' '}
          {headingOf(proposed.label)}
        </Button>
      );
    }
    if (trouble.code !== 'broken' || !isAnalyst) return null;
    const { lostSheetId, lostColumnId } = trouble;
    const label = lostColumnId === undefined ? 'Put the sheet back' : 'Put the column back';
    return (
      <HStack mt="2" wrap="wrap">
        {lostSheetId !== undefined && (
          <Button
            size="sm"
            onClick={() => void act(() => putSourceBack(workbook.id, lostSheetId, lostColumnId))}
          >
            {label}
          </Button>
        )}
        <Button size="sm" variant="outline" onClick={() => setFeeding(true)}>
          Choose another source
        </Button>
      </HStack>
    );
  };
  return (
    <Shell
      trail={[
        { label: workbook.name, to: addresses.contents(workbook.id) },
        { label: 'Lists', to: addresses.lists(workbook.id) },
        { label: title },
      ]}
      bar={<PlaceBar place={title} actions={[]} />}
    >
      <Stack p={{ base: '4', md: '6' }} maxW="1040px" gap="6">
        <Box>
          <Text fontFamily="mono" overflowWrap="anywhere">
            {entry.source ?? 'Typed into the column'}
          </Text>
          <Text color="ink.soft">{sayCounts(entry.counts)}</Text>
          <HStack mt="2" gap="4" wrap="wrap">
            {isAnalyst && (
              <Button
                size="xs"
                variant="outline"
                aria-expanded={isFeeding}
                onClick={() => setFeeding(!isFeeding)}
              >
                {entry.source === undefined ? 'Feed it from the workbook' : 'Change its source'}
              </Button>
            )}
            <TextLink to={addresses.values(workbook.id, sheet.id, columnId)}>
              Values stored in {column?.heading ?? ''}
            </TextLink>
            {entry.sourceSheetId !== undefined && (
              <TextLink to={addresses.sheet(workbook.id, entry.sourceSheetId)}>The source</TextLink>
            )}
          </HStack>
        </Box>
        {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
        {isFeeding && column && (
          <Box maxW="420px">
            <ListFields sheet={sheet} columns={sheet.columns} column={column} onPut={feed} />
          </Box>
        )}
        <Part title="Health">
          <Troubles troubles={entry.troubles} cureOf={cureOf} />
        </Part>
        <ValuesAsked changing={changing} />
        {unlisted.length > 0 && (
          <Unlisted
            {...{ unlisted, entry, sheet, workbook, changing }}
            onAdd={
              isAnalyst || entry.sourceColumnId !== undefined
                ? (text) => void act(() => addTo(detail, text))
                : undefined
            }
          />
        )}
        <Part title="Feeds">
          <Stack as="ul" listStyleType="none" gap="1">
            {entry.uses.map((each) => (
              <li key={each.columnId}>
                <Use use={each} workbookId={workbook.id} />
              </li>
            ))}
          </Stack>
        </Part>
        <Part title="Offers">
          {items.length === 0 ? (
            <Text color="ink.soft">Nothing.</Text>
          ) : (
            <Box
              as="ul"
              listStyleType="none"
              columns={{ base: '1', sm: '2', md: '3' }}
              fontSize="13.5px"
            >
              {items.map(({ value, label, second }, at) => (
                <Box as="li" key={at} breakInside="avoid" pb="1">
                  <bdi>{label ?? String(value)}</bdi>
                  {label !== undefined && (
                    <Text as="span" color="ink.soft" fontFamily="mono">
                      {' '}
                      {String(value)}
                    </Text>
                  )}
                  {second !== undefined && (
                    <Text as="span" color="ink.soft">
                      {' '}
                      {second}
                    </Text>
                  )}
                </Box>
              ))}
            </Box>
          )}
          {entry.counts.items > items.length && (
            <Text color="ink.soft">
              The first {sayCount(items.length)} of {sayCount(entry.counts.items)}.
            </Text>
          )}
        </Part>
        {entry.source !== undefined && (
          <Part title="Its history">
            {history.length === 0 && <Text color="ink.soft">Nothing since it was set up.</Text>}
            <Stack as="ul" listStyleType="none" gap="1">
              {history.map(({ seq, at, by, door, what, before, after }) => (
                <li key={`${seq} ${before ?? ''} ${after ?? ''}`}>
                  ‘{what === 'came' ? after : before}’ {DID[what]}
                  {what === 'renamed' && ` ‘${after ?? ''}’`}
                  <Text as="span" color="ink.soft">
                    {' '}
                    {sayMoment(at, workbook.locale, workbook.timeZone)}, {by}, {door}
                  </Text>
                </li>
              ))}
            </Stack>
          </Part>
        )}
      </Stack>
    </Shell>
  );
}

interface UnlistedProps {
  readonly unlisted: readonly UnlistedView[];
  readonly entry: ListDetailView['entry'];
  readonly sheet: SheetView;
  readonly workbook: WorkbookView;
  readonly changing: ValuesChanging;
  readonly onAdd: ((text: string) => void) | undefined;
}

/** Values that records hold and the list does not: looked at, added to it, or changed. */
function Unlisted({ unlisted, entry, sheet, workbook, changing, onAdd }: UnlistedProps) {
  return (
    <Part title="Stored but not on the list">
      <Stack as="ul" listStyleType="none" gap="0">
        {unlisted.map(({ columnId, text, count, becomes }) => {
          const use = entry.uses.find((each) => each.columnId === columnId);
          const isHere = use?.sheetId === sheet.id;
          const form = sheet.forms[0];
          const question = {
            text: '',
            filters: [{ columnId, says: inQuotes(text) }],
          };
          return (
            <HStack
              as="li"
              key={`${columnId} ${text}`}
              borderTopWidth="1px"
              py="2"
              wrap="wrap"
              gap="3"
            >
              <Text flex="1" minW="160px">
                <bdi>{text}</bdi>
                <Text as="span" color="ink.soft">
                  {' '}
                  in {sayCountOf(count, 'record')}
                  {use && !isHere ? ` of ${use.sheet}` : ''}
                </Text>
              </Text>
              {isHere && form && (
                <TextLink
                  to={`${addresses.desk(workbook.id, form.id)}?${questionAddress(question)}`}
                >
                  Look at them
                </TextLink>
              )}
              {isHere && becomes !== undefined && (
                <Button
                  size="xs"
                  onClick={() => void changing.ask(columnId, [{ from: [text], to: becomes }])}
                >
                  Now called ‘{becomes}’: change them
                </Button>
              )}
              {onAdd && (
                <Button
                  size="xs"
                  variant="outline"
                  aria-label={`Add ${text} to the list`}
                  onClick={() => onAdd(text)}
                >
                  Add it to the list
                </Button>
              )}
              {isHere && (
                <TextLink to={addresses.values(workbook.id, sheet.id, columnId)}>
                  Change it to another
                </TextLink>
              )}
            </HStack>
          );
        })}
      </Stack>
    </Part>
  );
}

/** Puts back the column, or the sheet, that a list was fed by. */
async function putSourceBack(
  workbookId: string,
  sheetId: string,
  columnId: string | undefined,
): Promise<void> {
  const held = await get<{ revision: number }>(paths.sheet(sheetId)).catch(() => ({ revision: 0 }));
  const path =
    columnId === undefined
      ? paths.putBackSheet(workbookId, sheetId)
      : paths.putBackColumn(sheetId, columnId);
  await request('POST', path, { revision: held.revision });
}

/** Adds a value to what feeds a list: a new record of the source. */
async function addTo({ entry }: ListDetailView, text: string): Promise<void> {
  const { sourceSheetId = '', sourceColumnId = '' } = entry;
  const { revision } = await get<SheetView>(paths.sheet(sourceSheetId));
  const added = [{ answers: { [sourceColumnId]: text } }];
  await request('POST', paths.cells(sourceSheetId), { writeId: newId(), revision, added });
}
