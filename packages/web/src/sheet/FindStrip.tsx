import { Box, Button, HStack, Input, Text } from '@chakra-ui/react';
import type { FoundView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { sayCount } from '@varn/core';
import { useEffect, useRef, useState } from 'react';
import { request, sayError } from '../api/client';
import { lineAt, lineOf } from './lines';
import { activeOf, at } from './selection';
import { ReplacePart } from './ReplacePart';
import type { GridState } from './useSheetGrid';

/** Finds a text in what the cells show: Enter goes to the next one, with Shift to the one before. */
export function FindStrip({ grid, onClose }: { grid: GridState; onClose: () => void }) {
  const [text, setText] = useState('');
  const [said, setSaid] = useState('');
  const [isReplacing, setReplacing] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => input.current?.focus(), []);

  const go = async (back: boolean): Promise<void> => {
    const { sheet, lines, viewParameter, selection } = grid;
    const { line, column } = activeOf(selection);
    const here = lineAt(lines, line);
    const after =
      here.is === 'free'
        ? { part: 'free', row: here.row, column }
        : here.is === 'record'
          ? { part: 'records', row: here.position, column }
          : undefined;
    try {
      const { cell, count, nth } = await request<FoundView>('POST', paths.find(sheet.id), {
        text,
        back,
        ...(after && { after }),
        ...(viewParameter !== '' && { view: viewParameter }),
      });
      if (!cell) {
        setSaid(`Nothing matches ‘${text}’.`);
        return;
      }
      const found =
        cell.part === 'free'
          ? lineOf(lines, { is: 'free', row: cell.row })
          : lineOf(lines, { is: 'record', position: cell.row });
      const spot = { line: found, column: cell.column };
      grid.select(at(spot));
      const which = count === undefined ? '' : `${sayCount(nth ?? 0)} of ${sayCount(count)}, `;
      setSaid(`${which}in ${grid.addressOf(spot)}`);
    } catch (error) {
      setSaid(sayError(error));
    }
  };

  return (
    <Box
      role="search"
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.preventDefault();
        event.stopPropagation();
        onClose();
      }}
    >
      <HStack px="5" py="2" borderBottomWidth={isReplacing ? undefined : '1px'} wrap="wrap">
        <Input
          enterKeyHint="search"
          ref={input}
          size="sm"
          maxW="280px"
          bg="leaf"
          borderColor="edge"
          aria-label="Find in this sheet"
          placeholder="Find in this sheet"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Enter' && text.trim() !== '') void go(event.shiftKey);
          }}
        />
        <Button
          size="sm"
          variant="outline"
          disabled={text.trim() === ''}
          onClick={() => void go(true)}
        >
          Previous
        </Button>
        <Button
          size="sm"
          variant="outline"
          disabled={text.trim() === ''}
          onClick={() => void go(false)}
        >
          Next
        </Button>
        {grid.mayEditRecords && (
          <Button
            size="sm"
            variant="outline"
            aria-expanded={isReplacing}
            onClick={() => setReplacing(!isReplacing)}
          >
            Replace
          </Button>
        )}
        <Text role="status" color="ink.soft">
          {said}
        </Text>
        {!isReplacing && (
          <Text color="ink.soft" fontSize="12.5px" ms="auto" hideBelow="lg">
            Your browser’s own find sees only the rows on screen.
          </Text>
        )}
        <Button size="sm" variant="ghost" onClick={onClose}>
          Close
        </Button>
      </HStack>
      {isReplacing && <ReplacePart grid={grid} text={text} onNext={() => go(false)} />}
    </Box>
  );
}
