import { Box, Button, Flex, HStack, Input, NativeSelect, Stack, Text } from '@chakra-ui/react';
import type { ManyChanged, MatchesPreview, SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { isTyped, sayCount, sayCountOf } from '@varn/core';
import { useEffect, useRef, useState } from 'react';
import { useSWRConfig } from 'swr';
import { request, requestText, sayError } from '../api/client';
import { readAnew } from '../api/events';
import { newId } from '../api/newId';
import { LeftOut } from '../ui/LeftOut';
import { Notice } from '../ui/Notice';
import { UnderwayNote } from '../ui/UnderwayNote';

/** How long one types on before it is tried. */
const PAUSE_MS = 250;
/** From so many matches on their count is typed before they are deleted. */
const MANY = 100;

interface ChangeAllProps {
  readonly sheet: SheetView;
  readonly view: string;
  readonly count: number;
  /** @param says what was done, and the write that did it */
  readonly onDone: (says: string, writeId: string) => void;
  readonly onClose: () => void;
}

/** Changes one column of all matches, after showing what would become of them. */
export function ChangeAll({ sheet, view, count, onDone, onClose }: ChangeAllProps) {
  const { mutate } = useSWRConfig();
  const columns = sheet.columns.filter((column) => isTyped(column) && column.kind !== 'file');
  const [columnId, setColumnId] = useState(columns[0]?.id ?? '');
  const [text, setText] = useState('');
  const [takesAsked, setTakesAsked] = useState(false);
  const [preview, setPreview] = useState<{ of: string; is: MatchesPreview } | null>(null);
  const [failure, setFailure] = useState('');
  const [running, setRunning] = useState<string | null>(null);
  // Sent again, as after a lost answer, it is the same write.
  const write = useRef({ asked: '', id: newId() });
  const select = useRef<HTMLSelectElement>(null);
  useEffect(() => select.current?.focus(), []);
  const asked = JSON.stringify({ view, count, columnId, text, takesAsked });

  useEffect(() => {
    const asks = new AbortController();
    const { signal } = asks;
    const waiting = setTimeout(() => {
      request<MatchesPreview>('POST', paths.previewMatches(sheet.id), JSON.parse(asked), { signal })
        .then((is) => {
          if (signal.aborted) return;
          setPreview({ of: asked, is });
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
  }, [asked, sheet.id]);

  const isCurrent = preview?.of === asked && failure === '';
  const changed = preview?.is.changed ?? 0;
  const heading = columns.find(({ id }) => id === columnId)?.heading ?? '';
  const change = async (): Promise<void> => {
    if (write.current.asked !== asked) write.current = { asked, id: newId() };
    const writeId = write.current.id;
    setRunning(writeId);
    try {
      const body = { ...(JSON.parse(asked) as object), writeId };
      const done = await request<ManyChanged>('POST', paths.changeMatches(sheet.id), body);
      readAnew(mutate, paths.workbook(sheet.workbookId), paths.sheet(sheet.id), '/api/forms/');
      const left = done.left > 0 ? ` ${sayCount(done.left)} left as they were.` : '';
      onDone(`${heading} changed in ${sayCountOf(done.changed, 'record')}.${left}`, done.writeId);
    } catch (error) {
      setFailure(sayError(error));
      // The button that was pressed has gone, or can’t be pressed now.
      select.current?.focus();
    } finally {
      setRunning(null);
    }
  };

  return (
    <Box
      mb="3"
      maxW="1040px"
      mx="auto"
      p="4"
      bg="leaf"
      borderWidth="1px"
      borderRadius="8px"
      role="region"
      aria-label="Change all matches"
    >
      <Flex gap="3" wrap="wrap" align="end">
        <Box as="label">
          <Text fontSize="13px">In all {sayCountOf(count, 'match', 'matches')}, set</Text>
          <NativeSelect.Root size="sm" w="220px">
            <NativeSelect.Field
              ref={select}
              bg="leaf"
              borderColor="edge"
              value={columnId}
              onChange={({ target }) => setColumnId(target.value)}
            >
              {columns.map(({ id, heading: name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        </Box>
        <Box as="label" flex="1" minW="200px">
          <Text fontSize="13px">to a value, or = and a formula; blank clears</Text>
          <Input
            size="sm"
            bg="leaf"
            borderColor="edge"
            fontFamily="mono"
            placeholder={`= ‘${heading}’`.replace(/[‘’]/g, "'")}
            maxLength={10_000}
            value={text}
            onChange={({ target }) => setText(target.value)}
          />
        </Box>
        <Button
          size="sm"
          loading={running !== null}
          disabled={!isCurrent || changed === 0}
          onClick={() => void change()}
        >
          Change {sayCountOf(changed, 'record')}
        </Button>
        <Button size="sm" variant="outline" disabled={running !== null} onClick={onClose}>
          Cancel
        </Button>
      </Flex>
      {running !== null && <UnderwayNote workbookId={sheet.workbookId} writeId={running} />}
      <Flex mt="3" gap="6" direction={{ base: 'column', lg: 'row' }}>
        <Box role="status" flex="none" minW={{ lg: '260px' }}>
          {failure !== '' ? (
            <Notice tone="refuse">{failure}</Notice>
          ) : !isCurrent ? (
            <Text color="ink.soft">Working it out…</Text>
          ) : (
            <PreviewList preview={preview.is} />
          )}
        </Box>
        {preview && failure === '' && (
          <Box flex="1" minW="0" opacity={isCurrent ? 1 : 0.6}>
            <LeftOut
              preview={preview.is}
              takesAsked={takesAsked}
              onTakesAsked={setTakesAsked}
              takeAway={() => requestText('POST', paths.leftMatches(sheet.id), JSON.parse(asked))}
            />
          </Box>
        )}
      </Flex>
    </Box>
  );
}

function PreviewList({ preview: { changed, first } }: { preview: MatchesPreview }) {
  return (
    <Stack gap="1">
      <Text>
        {changed === 0 ? 'Nothing would change.' : `${sayCountOf(changed, 'record')} would change.`}
      </Text>
      {first.length > 0 && (
        <Box
          overflow="auto"
          maxH="18vh"
          minH="46px"
          tabIndex={0}
          role="region"
          aria-label="Records that change"
        >
          {first.map(({ row, before, after }) => (
            <HStack key={row} gap="3" fontSize="13px" align="baseline">
              <Text color="ink.soft" fontFamily="mono" minW="64px">
                row {sayCount(row)}
              </Text>
              <Text fontFamily="mono">{before || 'blank'}</Text>
              <Text fontFamily="mono" color="brass">
                → {after || 'blank'}
              </Text>
            </HStack>
          ))}
        </Box>
      )}
    </Stack>
  );
}

interface RemoveAllProps extends Omit<ChangeAllProps, 'onClose'> {
  readonly onClose: () => void;
}

/** Asks once before all matches go to the bin; of many their count is typed. */
export function RemoveAll({ sheet, view, count, onDone, onClose }: RemoveAllProps) {
  const { mutate } = useSWRConfig();
  const [typed, setTyped] = useState('');
  const [failure, setFailure] = useState('');
  const keep = useRef<HTMLButtonElement>(null);
  const [writeId] = useState(newId);
  const [isRunning, setRunning] = useState(false);
  useEffect(() => {
    // The button that was pressed could not be pressed meanwhile, and lost the keys.
    if (failure !== '' && !isRunning) keep.current?.focus();
  }, [failure, isRunning]);
  const isMeant = count < MANY || Number(typed.replace(/\D/g, '')) === count;
  const remove = async (): Promise<void> => {
    setRunning(true);
    try {
      const body = { view, count, writeId };
      const done = await request<ManyChanged>('POST', paths.removeMatches(sheet.id), body);
      readAnew(mutate, paths.workbook(sheet.workbookId), paths.sheet(sheet.id), '/api/forms/');
      onDone(`${sayCountOf(done.changed, 'record')} deleted; they wait in the bin.`, done.writeId);
    } catch (error) {
      setFailure(sayError(error));
    } finally {
      setRunning(false);
    }
  };
  return (
    <HStack
      mb="3"
      maxW="1040px"
      mx="auto"
      gap="3"
      wrap="wrap"
      role="alertdialog"
      aria-label="Delete all matches"
    >
      <Notice tone="ask">
        Delete all {sayCountOf(count, 'match', 'matches')}? They go to the bin, and Undo brings them
        back.
      </Notice>
      {count >= MANY && (
        <Input
          size="sm"
          w="140px"
          bg="leaf"
          borderColor="edge"
          inputMode="numeric"
          aria-label={`Type ${sayCount(count)} to delete them`}
          placeholder={`Type ${sayCount(count)}`}
          value={typed}
          onChange={({ target }) => setTyped(target.value)}
        />
      )}
      <Button
        size="xs"
        autoFocus={count < MANY}
        loading={isRunning}
        disabled={!isMeant}
        onClick={() => void remove()}
      >
        Delete {sayCountOf(count, 'record')}
      </Button>
      <Button ref={keep} size="xs" variant="outline" disabled={isRunning} onClick={onClose}>
        Keep them
      </Button>
      {isRunning && <UnderwayNote workbookId={sheet.workbookId} writeId={writeId} />}
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
    </HStack>
  );
}
