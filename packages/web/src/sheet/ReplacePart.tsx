import { Button, HStack, Input, Stack, Text } from '@chakra-ui/react';
import type { ManyChanged, ReplacePreview } from '@varn/contract';
import { LONGEST_CELL } from '@varn/contract/limits';
import { paths } from '@varn/contract/paths';
import { isTyped, kindOf, replacing, sayCount, sayCountOf } from '@varn/core';
import { useRef, useState } from 'react';
import { useSWRConfig } from 'swr';
import { request, requestText, sayError } from '../api/client';
import { readAnew } from '../api/events';
import { newId } from '../api/newId';
import { LeftOut } from '../ui/LeftOut';
import { Notice } from '../ui/Notice';
import { UnderwayNote } from '../ui/UnderwayNote';
import { freeText, recordText } from './cells/faces';
import { lineAt } from './lines';
import { activeOf } from './selection';
import type { GridState } from './useSheetGrid';

interface ReplacePartProps {
  readonly grid: GridState;
  /** What is looked for. */
  readonly text: string;
  readonly onNext: () => Promise<void>;
}

/** Puts a text in place of what was found: in one cell after the other, or in all records at once. */
export function ReplacePart({ grid, text, onNext }: ReplacePartProps) {
  const { sheet, lines, viewParameter, selection } = grid;
  const { mutate } = useSWRConfig();
  const [by, setBy] = useState('');
  const [takesAsked, setTakesAsked] = useState(false);
  const [preview, setPreview] = useState<{ of: string; is: ReplacePreview } | null>(null);
  const [said, setSaid] = useState<{ text: string; isFailure?: boolean }>({ text: '' });
  const [running, setRunning] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  // Sent again, as after a lost answer, it is the same write.
  const write = useRef({ asked: '', id: newId() });
  const isBlank = text.trim() === '';
  const asked = {
    text,
    by,
    ...(viewParameter !== '' && { view: viewParameter }),
    ...(takesAsked && { takesAsked }),
  };
  const isCurrent = preview?.of === JSON.stringify(asked);

  const one = async (): Promise<void> => {
    setPreview(null);
    const spot = activeOf(selection);
    const held = textAt(grid);
    if (typeof held === 'object') {
      setSaid({ text: held.why, isFailure: true });
      return;
    }
    const next = replacing(text, by, LONGEST_CELL)(held);
    setSaid({ text: '' });
    if (next && 'tooLong' in next) {
      setSaid({ text: 'It would be longer than a cell can be.', isFailure: true });
      return;
    }
    if (next) {
      const looked = { record: grid.recordAt, row: grid.rowAt };
      const { failure, unplaced } = await grid.cells.put(
        [{ ...spot, text: next.text }],
        lines,
        looked,
      );
      // What was refused is told in the foot, and stands marked in its cell.
      if (failure !== '' || unplaced.length > 0) return;
    }
    await onNext();
  };

  const count = async (given: typeof asked): Promise<void> => {
    try {
      const is = await request<ReplacePreview>('POST', paths.previewReplace(sheet.id), given);
      setPreview({ of: JSON.stringify(given), is });
      setSaid({ text: '' });
    } catch (error) {
      setSaid({ text: sayError(error), isFailure: true });
    }
  };

  const all = async (cells: number): Promise<void> => {
    const body = { ...asked, cells };
    const of = JSON.stringify(body);
    if (write.current.asked !== of) write.current = { asked: of, id: newId() };
    const writeId = write.current.id;
    setRunning(writeId);
    try {
      const path = paths.replaceAll(sheet.id);
      const done = await request<ManyChanged>('POST', path, { ...body, writeId });
      readAnew(mutate, paths.workbook(sheet.workbookId), paths.sheet(sheet.id), '/api/forms/');
      await mutate(paths.undo(sheet.workbookId));
      write.current = { asked: '', id: newId() };
      setPreview(null);
      const left = done.left > 0 ? ` ${sayCount(done.left)} left as they were.` : '';
      setSaid({
        text: `‘${text}’ replaced in ${sayCountOf(done.changed, 'record')}.${left} Undo takes it back.`,
      });
    } catch (error) {
      setPreview(null);
      setSaid({ text: sayError(error), isFailure: true });
    } finally {
      setRunning(null);
      // The button that was pressed has gone.
      input.current?.focus();
    }
  };

  return (
    <Stack px="5" pb="2" gap="2" borderBottomWidth="1px">
      <HStack wrap="wrap">
        <Input
          ref={input}
          size="sm"
          maxW="280px"
          bg="leaf"
          borderColor="edge"
          aria-label="Replace with"
          placeholder="Replace with (blank takes it out)"
          maxLength={500}
          value={by}
          onChange={(event) => setBy(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && !isBlank) void one();
          }}
        />
        <Button size="sm" variant="outline" disabled={isBlank} onClick={() => void one()}>
          Replace, then next
        </Button>
        {sheet.hasRecords && (
          <Button size="sm" variant="outline" disabled={isBlank} onClick={() => void count(asked)}>
            Replace all…
          </Button>
        )}
        <Text role="status" color={said.isFailure ? 'madder' : 'ink.soft'}>
          {said.text}
        </Text>
      </HStack>
      {preview && isCurrent && (
        <Stack gap="2" role="region" aria-label="Replace all">
          <HStack wrap="wrap" gap="3">
            <Text role="status">{sayFound(text, preview.is, viewParameter !== '')}</Text>
            {preview.is.changed > 0 && (
              <Button
                size="sm"
                autoFocus
                loading={running !== null}
                onClick={() => void all(preview.is.cells)}
              >
                Replace in {sayCountOf(preview.is.changed, 'record')}
              </Button>
            )}
            <Button
              size="sm"
              variant="outline"
              disabled={running !== null}
              onClick={() => setPreview(null)}
            >
              Cancel
            </Button>
          </HStack>
          {running !== null && <UnderwayNote workbookId={sheet.workbookId} writeId={running} />}
          <LeftOut
            preview={preview.is}
            takesAsked={takesAsked}
            onTakesAsked={(takes) => {
              setTakesAsked(takes);
              const { takesAsked: _, ...rest } = asked;
              void count({ ...rest, ...(takes && { takesAsked: takes }) });
            }}
            takeAway={() => requestText('POST', paths.leftReplace(sheet.id), asked)}
          />
          <Notice tone="note">Computed cells and those above the heading stay as they are.</Notice>
        </Stack>
      )}
    </Stack>
  );
}

function sayFound(text: string, { cells, changed }: ReplacePreview, isView: boolean): string {
  const where = isView ? ' of your view' : '';
  if (cells === 0)
    return `‘${text}’ stands in no cell of the records${where} that can be typed into.`;
  if (changed === 0)
    return `‘${text}’ stands in ${sayCountOf(cells, 'cell')}, none of which can change.`;
  return `‘${text}’ stands in ${sayCountOf(cells, 'cell')} of the records${where}.`;
}

/** What one would type to get the active cell again, or why nothing is replaced in it. */
function textAt({ sheet, lines, selection, locale, ...grid }: GridState): string | { why: string } {
  const { line, column: index } = activeOf(selection);
  const here = lineAt(lines, line);
  if (here.is === 'record') {
    const column = sheet.columns[index];
    const record = grid.recordAt(here.position);
    if (!column || !record) return '';
    if (isTyped(column) && column.kind !== 'file') {
      return recordText(record.cells[index] ?? null, column, locale);
    }
    return {
      why: `${column.heading} is filled in by ${kindOf(column).filledBy === 'varn' ? 'Varn' : 'a formula'}. Press Next.`,
    };
  }
  if (here.is !== 'free') return '';
  const cell = grid.rowAt(line + 1)?.cells[index] ?? null;
  if (!grid.mayShape) return { why: 'Only analysts change cells above the heading. Press Next.' };
  if (cell?.formula !== undefined) return { why: 'This cell is computed. Press Next.' };
  return freeText(cell, locale);
}
