import { Box, Button, HStack, Input, Text } from '@chakra-ui/react';
import type { FoundRecordsView, FoundRecordView, SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import {
  fromWire,
  keyColumnsOf,
  nameOfRecord,
  sayCount,
  sayCountOf,
  showValue,
  type Cells,
  type LocaleFacts,
} from '@varn/core';
import { useEffect, useId, useRef, useState, type KeyboardEvent } from 'react';
import { request, sayError } from '../api/client';

/** How many records the list shows; all of them can be asked for. */
const MOST_LISTED = 8;
/** How long the list waits for the next key. */
const PAUSE_MS = 90;
/** Cells told beside a record's name. */
const BESIDE = 4;

interface FindRecordsProps {
  readonly sheet: SheetView;
  readonly locale: LocaleFacts;
  readonly onOpen: (recordId: string) => void;
  /** All that hold the words, as a question. */
  readonly onShowAll: (text: string) => void;
  readonly onAsk: () => void;
  /** Begins a new record with a key that no record has; absent where one can't. */
  readonly onNewWith: ((columnId: string, text: string) => void) | undefined;
  readonly onClose: () => void;
}

interface Found extends FoundRecordsView {
  readonly text: string;
}
const NOTHING: Found = { text: '', count: 0, found: [] };

/** Looks for records by their key or any words: a short list under the bar, chosen by keys. */
export function FindRecords(props: FindRecordsProps) {
  const { sheet, locale, onOpen, onShowAll, onAsk, onNewWith, onClose } = props;
  const [text, setText] = useState('');
  const [{ found, count, text: of }, setFound] = useState(NOTHING);
  const [failure, setFailure] = useState('');
  const [at, setAt] = useState(0);
  const input = useRef<HTMLInputElement>(null);
  const listId = useId();
  useEffect(() => input.current?.focus(), []);

  const typed = text.trim();
  useEffect(() => {
    if (typed === '') return;
    const asks = new AbortController();
    const { signal } = asks;
    const waiting = setTimeout(() => {
      request<FoundRecordsView>(
        'POST',
        paths.search(sheet.id),
        { text: typed, most: MOST_LISTED },
        { signal },
      )
        .then((answer) => {
          if (signal.aborted) return;
          setFound({ ...answer, text: typed });
          setAt(0);
          setFailure('');
        })
        .catch((error: unknown) => {
          if (!signal.aborted) setFailure(sayError(error));
        });
    }, PAUSE_MS);
    return () => {
      asks.abort();
      clearTimeout(waiting);
    };
  }, [typed, sheet.id]);

  const isCurrent = of === typed && typed !== '';
  const shown = typed === '' ? [] : found;
  const openAt = (place: number): void => {
    const record = shown[place];
    if (record) onOpen(record.record.id);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.key === 'Escape') onClose();
    else if (event.key === 'ArrowDown') setAt(Math.min(at + 1, shown.length - 1));
    else if (event.key === 'ArrowUp') setAt(Math.max(0, at - 1));
    // What stands there may be of an earlier text: it is not opened.
    else if (event.key === 'Enter' && isCurrent) openAt(at);
    else if (event.key !== 'Enter') return;
    event.preventDefault();
    event.stopPropagation();
  };
  const [key] = keyColumnsOf(sheet.columns);
  const isUnknown = isCurrent && count === 0 && failure === '';
  const optionId = (place: number): string => `${listId}-${place}`;
  return (
    <Box
      px={{ base: '3', md: '5' }}
      py="2"
      borderBottomWidth="1px"
      role="search"
      aria-label="Find records"
    >
      <HStack gap="2" wrap="wrap">
        <Input
          ref={input}
          size="sm"
          maxW="380px"
          bg="leaf"
          borderColor="edge"
          role="combobox"
          aria-label={`Find in ${sheet.name}`}
          aria-expanded={shown.length > 0}
          aria-controls={listId}
          aria-activedescendant={shown.length > 0 ? optionId(at) : undefined}
          aria-autocomplete="list"
          autoComplete="off"
          enterKeyHint="search"
          placeholder={`${key ? `${key.heading}, or any` : 'Any'} words: 24 nov wyn`}
          maxLength={300}
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={onKeyDown}
        />
        <Button size="sm" variant="outline" onClick={onAsk}>
          Ask by example
        </Button>
        {isCurrent && count > 1 && (
          <Button size="sm" variant="outline" onClick={() => onShowAll(typed)}>
            Show all {sayCount(count)}
          </Button>
        )}
        <Text role="status" color={failure ? 'madder' : 'ink.soft'}>
          {failure ||
            (isUnknown
              ? `No record contains ‘${typed}’.`
              : isCurrent
                ? sayCountOf(count, 'record')
                : '')}
        </Text>
        {isUnknown && key && onNewWith && !/\s/.test(typed) && (
          <Button size="sm" variant="outline" onClick={() => onNewWith(key.id, typed)}>
            New record with {key.heading} {typed}
          </Button>
        )}
        <Button size="sm" variant="ghost" ms="auto" onClick={onClose}>
          Close
        </Button>
      </HStack>
      <Box
        as="ul"
        id={listId}
        role="listbox"
        aria-label="Records found"
        listStyleType="none"
        // In a low window the form keeps its place under them.
        maxH="34vh"
        overflowY="auto"
        mt={shown.length > 0 ? '2' : '0'}
      >
        {shown.map((each, place) => (
          <FoundOption
            key={each.record.id}
            id={optionId(place)}
            isAt={place === at}
            each={each}
            sheet={sheet}
            locale={locale}
            onOpen={() => openAt(place)}
          />
        ))}
      </Box>
    </Box>
  );
}

interface FoundOptionProps {
  readonly id: string;
  readonly isAt: boolean;
  readonly each: FoundRecordView;
  readonly sheet: SheetView;
  readonly locale: LocaleFacts;
  readonly onOpen: () => void;
}

function FoundOption({ id, isAt, each, sheet, locale, onOpen }: FoundOptionProps) {
  const { record, row } = each;
  const cells: Cells = Object.fromEntries(
    sheet.columns.map((column, n) => [column.id, fromWire(record.cells[n] ?? null, column)]),
  );
  const name = nameOfRecord(cells, sheet.columns, locale);
  const beside = sheet.columns
    .map((column) => showValue(cells[column.id] ?? null, column, locale))
    .filter((shown) => shown !== '' && shown !== name)
    .slice(0, BESIDE);
  const option = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (isAt) option.current?.scrollIntoView({ block: 'nearest' });
  }, [isAt]);
  return (
    <HStack
      as="li"
      ref={option}
      id={id}
      role="option"
      aria-selected={isAt}
      gap="3"
      px="2"
      py="1"
      minH="28px"
      cursor="pointer"
      borderStartWidth="3px"
      borderStartColor={isAt ? 'brass' : 'transparent'}
      bg={isAt ? 'brass.wash' : undefined}
      // The input keeps the focus.
      onMouseDown={(event) => event.preventDefault()}
      onClick={onOpen}
    >
      <Text fontFamily="mono" fontWeight="600" flex="none">
        {name}
      </Text>
      <Text color="ink.soft" truncate minW="0">
        {beside.join(' · ')}
      </Text>
      <Text color="ink.soft" fontFamily="mono" fontSize="12px" ms="auto" flex="none">
        row {sayCount(row)}
      </Text>
    </HStack>
  );
}
