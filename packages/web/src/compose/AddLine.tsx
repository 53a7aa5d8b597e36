import { Box, Text, Textarea } from '@chakra-ui/react';
import { kindOf, sayOutlineProblem } from '@varn/core';
import { useId, useState, type KeyboardEvent } from 'react';
import { FirstHint } from '../ui/FirstHint';
import { addLines, listedOn } from './addLine';
import type { PagePlace } from './edits';
import type { Composing } from './useCompose';

interface AddLineProps {
  readonly composing: Composing;
  readonly spot: PagePlace;
  /** Told of what was added, the last of it. */
  readonly onAdded: (blockId: string) => void;
  /** Left by Escape, where it is not the line at the end. */
  readonly onClose?: () => void;
  readonly autoFocus?: boolean;
}

const EXAMPLES =
  'Water temp: number 0..40   ·   River: one of (Ash Beck, Mereling)   ·   page: Next';

/**
 * The empty line: what is typed on it becomes a part of the form, a field most of the time. Enter
 * adds it and leaves the line empty for the next; several lines can be pasted at once.
 */
export function AddLine({ composing, spot, onAdded, onClose, autoFocus = false }: AddLineProps) {
  const [text, setText] = useState('');
  const aboutId = useId();
  const added = text.trim() === '' ? null : addLines(text, composing, spot);
  const [problem] = added?.problems ?? [];
  const twice = added?.twice ?? null;
  const listed = added && listedOn(text, added.problems);
  const isBegun = problem?.code === 'membersWanted';
  const isWrong = (problem !== undefined && !isBegun) || twice !== null;

  const add = (): void => {
    if (!added || isWrong || isBegun) return;
    composing.edit((layout) => addLines(text, { ...composing, layout }, spot).layout);
    setText('');
    const last = added.blocks.at(-1);
    if (last) onAdded(last.id);
    requestAnimationFrame(() =>
      document.getElementById(aboutId)?.scrollIntoView({ block: 'nearest' }),
    );
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.key === 'Enter' && !event.shiftKey) {
      event.preventDefault();
      if (listed !== null && !isWrong) setText(listed);
      else add();
    } else if (event.key === 'Escape' && (text !== '' || onClose)) {
      event.preventDefault();
      event.stopPropagation();
      setText('');
      onClose?.();
    }
  };
  const about = (): string => {
    if (isBegun) return 'Enter goes on to what it lists, a line each.';
    if (problem) return sayOutlineProblem(problem);
    if (twice !== null) {
      return `‘${twice}’ is already on the form. Each column can be there once.`;
    }
    if (listed !== null) return 'Enter goes on; on an empty line it adds what is listed.';
    return added ? `Enter adds: ${sayAdded(added, composing)}` : `Like: ${EXAMPLES}`;
  };
  return (
    <Box my="2">
      {spot.blockId === null && (
        <FirstHint id="emptyLine">
          Each line becomes a field. Type “Water temp: number” and press Enter.
        </FirstHint>
      )}
      <Textarea
        aria-label="Add a part"
        aria-describedby={aboutId}
        aria-invalid={isWrong || undefined}
        data-add-line={spot.blockId ?? 'end'}
        autoFocus={autoFocus}
        autoresize
        rows={1}
        size="sm"
        bg="leaf"
        borderStyle="dashed"
        borderColor={isWrong ? 'madder' : 'edge'}
        placeholder="Type a label, or a line of the outline"
        value={text}
        onKeyDown={onKeyDown}
        onChange={(event) => setText(event.target.value)}
      />
      <Text id={aboutId} mt="1" fontSize="12.5px" color={isWrong ? 'madder' : 'ink.soft'}>
        {about()}
      </Text>
    </Box>
  );
}

function sayAdded({ blocks, layout }: ReturnType<typeof addLines>, { columns }: Composing): string {
  return blocks
    .map((block) => {
      if (block.is === 'group') return `${block.label}, ${block.members.length} columns`;
      if (block.is !== 'field') return block.is === 'message' ? 'a live message' : `a ${block.is}`;
      const column =
        layout.columns.find(({ id }) => id === block.columnId) ??
        columns.find(({ id }) => id === block.columnId);
      return column
        ? `${block.label ?? column.heading}, ${kindOf(column).label.toLowerCase()}`
        : '';
    })
    .join('; ');
}
