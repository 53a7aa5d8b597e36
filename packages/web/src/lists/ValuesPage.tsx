import { Box, Button, Checkbox, Flex, HStack, Input, Stack, Text } from '@chakra-ui/react';
import type {
  ColumnValuesView,
  SheetView,
  VariantsEntry,
  VariantsView,
  WorkbookView,
} from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { mayAs } from '@varn/contract/roles';
import { kindOf, sayCount, sayCountOf } from '@varn/core';
import { useState } from 'react';
import { useParams } from 'react-router';
import useSWR from 'swr';
import { addresses } from '../addresses';
import { sayError } from '../api/client';
import { useSheet, useWorkbook } from '../api/resources';
import { Arriving } from '../frame/Arriving';
import { Shell } from '../frame/Shell';
import { PlaceBar } from '../keys/PlaceBar';
import { Notice } from '../ui/Notice';
import { Waiting } from '../ui/Waiting';
import { Part } from './parts';
import { useValuesChange, type ValuesChanging } from '../sheet/lists/useValuesChange';
import { ValuesAsked } from '../sheet/lists/ValuesAsked';

/** What a column holds: each value with a bar, and spellings that are likely one name. */
export function ValuesPage() {
  const { workbookId = '', sheetId = '', columnId = '' } = useParams();
  const { data: workbook, error } = useWorkbook(workbookId);
  const { data: sheet, error: lost } = useSheet(sheetId);
  if (!workbook || !sheet) return <Arriving trail={[{ label: 'Values' }]} error={error ?? lost} />;
  return <Values key={columnId} {...{ workbook, sheet, columnId }} />;
}

interface ValuesProps {
  readonly workbook: WorkbookView;
  readonly sheet: SheetView;
  readonly columnId: string;
}

const ANEW = { revalidateOnMount: true, revalidateIfStale: true } as const;

function Values({ workbook, sheet, columnId }: ValuesProps) {
  const { data: held, error } = useSWR<ColumnValuesView, unknown>(
    paths.columnValues(sheet.id, columnId),
    ANEW,
  );
  const mayChange = mayAs(workbook.role, 'clerk');
  const { data: told } = useSWR<VariantsView, unknown>(
    mayChange ? paths.variants(sheet.id, columnId) : null,
    ANEW,
  );
  const changing = useValuesChange(workbook.id, sheet.id);
  const column = sheet.columns.find(({ id }) => id === columnId);
  const title = `${column?.heading ?? 'A column'} of ${sheet.name}`;
  const values = held?.values ?? [];
  const most = values[0]?.count ?? 1;
  const isTyped = column !== undefined && kindOf(column).filledBy === 'people';
  const isList = column?.settings.list !== undefined || column?.settings.choices !== undefined;
  return (
    <Shell
      trail={[
        { label: workbook.name, to: addresses.contents(workbook.id) },
        isList
          ? { label: 'Lists', to: addresses.lists(workbook.id) }
          : { label: sheet.name, to: addresses.sheet(workbook.id, sheet.id) },
        { label: title },
      ]}
      bar={<PlaceBar place={title} actions={[]} />}
    >
      <Stack p={{ base: '4', md: '6' }} maxW="900px" gap="6">
        {error !== undefined && <Notice tone="refuse">{sayError(error)}</Notice>}
        <ValuesAsked changing={changing} />
        {told && told.variants.length > 0 && isTyped && (
          <Part title="Likely one name, spelt in more than one way">
            <Stack gap="3">
              {told.variants.map((entry) => (
                <Variants
                  key={entry.keep.text}
                  entry={entry}
                  columnId={columnId}
                  changing={changing}
                />
              ))}
            </Stack>
          </Part>
        )}
        <Part title="Every value">
          {!held && error === undefined && <Waiting />}
          {held && (
            <Text color="ink.soft" mb="2">
              {sayCountOf(held.different, 'different value')}
              {held.different > values.length && `, the ${sayCount(values.length)} most frequent`}
            </Text>
          )}
          <Stack as="ul" listStyleType="none" gap="0">
            {values.map(({ text, count }) => (
              <Value
                key={text}
                {...{ text, count, share: count / most }}
                onRename={
                  mayChange && isTyped
                    ? (to) => void changing.ask(columnId, [{ from: [text], to }])
                    : undefined
                }
              />
            ))}
          </Stack>
        </Part>
      </Stack>
    </Shell>
  );
}

interface ValueProps {
  readonly text: string;
  readonly count: number;
  readonly share: number;
  readonly onRename: ((to: string) => void) | undefined;
}

function Value({ text, count, share, onRename }: ValueProps) {
  const [typed, setTyped] = useState<string | null>(null);
  const put = (): void => {
    const to = typed?.trim() ?? '';
    setTyped(null);
    if (to !== '' && to !== text) onRename?.(to);
  };
  return (
    <Flex as="li" align="center" gap="3" py="1" wrap="wrap">
      <Box w={{ base: 'full', sm: '240px' }} minW="0">
        {typed === null ? (
          <Text overflow="hidden" textOverflow="ellipsis" whiteSpace="nowrap" title={text}>
            <bdi>{text}</bdi>
          </Text>
        ) : (
          <Input
            size="xs"
            autoFocus
            aria-label={`${text} becomes`}
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            onBlur={() => setTyped(null)}
            onKeyDown={(event) => {
              if (event.key === 'Enter') put();
              if (event.key === 'Escape') setTyped(null);
            }}
          />
        )}
      </Box>
      <Box flex="1" minW="80px" h="12px" bg="rule" borderRadius="2px" aria-hidden>
        <Box
          h="full"
          bg="slate"
          borderRadius="2px"
          style={{ width: `${Math.max(1, share * 100)}%` }}
        />
      </Box>
      <Text w="64px" textAlign="end" fontFamily="mono" fontSize="13px">
        {sayCount(count)}
      </Text>
      {onRename && (
        <Button
          size="2xs"
          variant="ghost"
          minH="24px"
          aria-label={`Change ${text}`}
          onClick={() => setTyped(text)}
        >
          Change
        </Button>
      )}
    </Flex>
  );
}

interface VariantsProps {
  readonly entry: VariantsEntry;
  readonly columnId: string;
  readonly changing: ValuesChanging;
}

/** Spellings to be folded into the one that most records have; those left unticked stay. */
function Variants({ entry: { keep, others }, columnId, changing }: VariantsProps) {
  const [left, setLeft] = useState<ReadonlySet<string>>(
    // A near spelling may be another name: only those that are written otherwise are ticked at first.
    () => new Set(others.filter(({ isWritten }) => !isWritten).map(({ text }) => text)),
  );
  const from = others.map(({ text }) => text).filter((text) => !left.has(text));
  return (
    <HStack
      role="group"
      aria-label={`Spellings of ${keep.text}`}
      gap="4"
      wrap="wrap"
      align="center"
    >
      <Stack gap="1" flex="1" minW="220px">
        {others.map(({ text, count }) => (
          <Checkbox.Root
            key={text}
            size="sm"
            checked={!left.has(text)}
            onCheckedChange={({ checked }) => {
              const next = new Set(left);
              if (checked === true) next.delete(text);
              else next.add(text);
              setLeft(next);
            }}
          >
            <Checkbox.HiddenInput />
            <Checkbox.Control borderColor="edge" />
            <Checkbox.Label>
              <Text as="span" whiteSpace="pre">
                {text}
              </Text>{' '}
              <Text as="span" color="ink.soft">
                {sayCount(count)}
              </Text>
            </Checkbox.Label>
          </Checkbox.Root>
        ))}
      </Stack>
      <Text flex="1" minW="160px">
        into <strong>{keep.text}</strong>{' '}
        <Text as="span" color="ink.soft">
          {sayCount(keep.count)}
        </Text>
      </Text>
      <Button
        size="xs"
        variant="outline"
        disabled={from.length === 0}
        aria-label={`Fold into ${keep.text}`}
        onClick={() => void changing.ask(columnId, [{ from, to: keep.text }])}
      >
        Fold {sayCountOf(from.length, 'spelling')}
      </Button>
    </HStack>
  );
}
