import { Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { Landed, RecordHistoryEntry, RecordHistoryView, SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { fromWire, showValue, type CellValue, type Column, type LocaleFacts } from '@varn/core';
import { useState } from 'react';
import useSWR from 'swr';
import { get, request, sayError } from '../api/client';
import { newId } from '../api/newId';
import { Margin } from '../ui/Margin';
import { Notice } from '../ui/Notice';
import { sayMoment } from '../ui/sayMoment';
import type { OpenRecord } from './openRecord';

const DID: Readonly<Partial<Record<RecordHistoryEntry['kind'], string>>> = {
  recordAdded: 'entered it',
  recordChanged: 'changed it',
  recordRemoved: 'deleted it',
  recordPutBack: 'put it back',
  recordMoved: 'moved it',
  sheetAdded: 'brought it in',
};

interface RecordHistoryProps {
  readonly record: OpenRecord;
  readonly sheet: SheetView;
  readonly locale: LocaleFacts;
  /** The workbook's, in which moments are told. */
  readonly timeZone: string;
  readonly mayEnter: boolean;
  readonly onBroughtBack: (landed: Landed) => void;
  readonly onClose: () => void;
}

/** What happened to a record, the newest first; an older state can be put back. */
export function RecordHistory(props: RecordHistoryProps) {
  const { record, sheet, locale, timeZone, mayEnter, onBroughtBack, onClose } = props;
  const { tag } = locale;
  const path = paths.recordHistory(sheet.id, record.id);
  const { data, error } = useSWR<RecordHistoryView, unknown>(path, {
    revalidateOnMount: true,
    dedupingInterval: 0,
  });
  const [older, setOlder] = useState<RecordHistoryView | null>(null);
  const [failure, setFailure] = useState('');
  const entries = [...(data?.entries ?? []), ...(older?.entries ?? [])];
  const next = older ? older.next : data?.next;

  const bringBack = async (seq: number): Promise<void> => {
    try {
      const body = { writeId: newId(), revision: record.revision, seq };
      onBroughtBack(await request<Landed>('POST', paths.bringBackState(sheet.id, record.id), body));
    } catch (reason) {
      setFailure(sayError(reason));
    }
  };
  const readOlder = async (): Promise<void> => {
    try {
      const more = await get<RecordHistoryView>(`${path}?before=${next ?? 0}`);
      setOlder({ ...more, entries: [...(older?.entries ?? []), ...more.entries] });
    } catch (reason) {
      setFailure(sayError(reason));
    }
  };

  return (
    <Margin title="History of the record" onClose={onClose}>
      {(failure !== '' || error !== undefined) && (
        <Notice tone="refuse">{failure || sayError(error)}</Notice>
      )}
      <Stack as="ol" listStyleType="none" gap="3">
        {entries.map((entry, n) => (
          <Entry
            key={entry.seq}
            entry={entry}
            columns={sheet.columns}
            locale={locale}
            said={sayMoment(entry.at, tag, timeZone)}
            onBringBack={
              mayEnter && n > 0 && entry.kind !== 'recordMoved'
                ? () => void bringBack(entry.seq)
                : undefined
            }
          />
        ))}
      </Stack>
      {next !== undefined && (
        <Button size="xs" variant="outline" onClick={() => void readOlder()}>
          Older
        </Button>
      )}
    </Margin>
  );
}

interface EntryProps {
  readonly entry: RecordHistoryEntry;
  readonly columns: readonly Column[];
  readonly locale: LocaleFacts;
  /** When it was. */
  readonly said: string;
  readonly onBringBack: (() => void) | undefined;
}

function Entry({ entry, columns, locale, said, onBringBack }: EntryProps) {
  const { by, door, kind, changes } = entry;
  return (
    <Stack as="li" gap="1" borderTopWidth="1px" pt="2">
      <Text>
        <Text as="span" fontWeight="600">
          {by}
        </Text>{' '}
        {DID[kind] ?? kind}
      </Text>
      <Text color="ink.soft" fontSize="12.5px">
        {said} · {door}
      </Text>
      {changes.length > 0 && (
        <Stack as="dl" gap="0.5" fontSize="13px">
          {changes.map(({ columnId, before, after }) => {
            const column = columns.find(({ id }) => id === columnId);
            if (!column) return null;
            const show = (value: CellValue): string =>
              showValue(fromWire(value, column), column, locale).slice(0, 200);
            return (
              <HStack key={columnId} gap="2" align="baseline" wrap="wrap">
                <Text as="dt" color="ink.soft">
                  {column.heading}
                </Text>
                <Text as="dd" fontFamily="mono" overflowWrap="anywhere">
                  {before !== null && <s>{show(before)}</s>}{' '}
                  {after === null ? 'blank' : show(after)}
                </Text>
              </HStack>
            );
          })}
        </Stack>
      )}
      {onBringBack && (
        <Button size="2xs" variant="outline" alignSelf="start" minH="24px" onClick={onBringBack}>
          Put back as it was then
        </Button>
      )}
    </Stack>
  );
}
