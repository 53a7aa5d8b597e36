import { Box, Text, Textarea } from '@chakra-ui/react';
import { kindOf, sayOutlineProblem, type OutlineOffer, sayFirstNumbers } from '@varn/core';
import { useEffect, useId, useRef, useState, type KeyboardEvent } from 'react';
import { FirstHint } from '../ui/FirstHint';
import { addLines, listedOn, placeOf } from './addLine';
import type { PagePlace } from './edits';
import { OffersList } from './OffersList';
import type { Composing } from './useCompose';
import { useOffers } from './useOffers';

interface AddLineProps {
  readonly composing: Composing;
  readonly spot: PagePlace;
  /** Told of what was added, the last of it. */
  readonly onAdded: (blockId: string) => void;
  /** Left by Escape, where it is not the line at the end. */
  readonly onClose?: () => void;
  readonly autoFocus?: boolean;
}

const EXAMPLES = 'Amount: number 0..40   ·   Colour: one of (Red, Green)   ·   page: Next';

/**
 * The empty line: what is typed on it becomes a part of the form, a field most of the time. Enter
 * adds it and leaves the line empty for the next; several lines can be pasted at once. What a line
 * could go on with is offered under it.
 */
export function AddLine({ composing, spot, onAdded, onClose, autoFocus = false }: AddLineProps) {
  const [text, setText] = useState('');
  const [caret, setCaret] = useState<number | null>(null);
  const area = useRef<HTMLTextAreaElement>(null);
  const offersId = useId();
  const offers = useOffers(composing, text, text === '' ? null : caret);
  const aboutId = useId();
  const added = text.trim() === '' ? null : addLines(text, composing, spot);
  const [problem] = added?.problems ?? [];
  const twice = added?.twice ?? null;
  const listed = added && listedOn(text, added.problems);
  const isBegun = problem?.code === 'membersWanted';
  const isWrong = (problem !== undefined && !isBegun) || twice !== null;
  const [first] = offers.list;
  // A word that can't be read as it stands goes on with the first that is offered for it.
  const isUnread = problem !== undefined && placeOf(text, problem) >= offers.from;
  const next = offers.list[offers.pointed] ?? (first && (isUnread || first.mends) ? first : null);
  const isOffered = offers.list.length > 0;

  useEffect(() => {
    if (isOffered) document.getElementById(aboutId)?.scrollIntoView({ block: 'nearest' });
  }, [isOffered, aboutId]);

  const take = (offer: OutlineOffer): void => {
    const taken = offers.taken(offer);
    setText(taken.text);
    setCaret(taken.caret);
    requestAnimationFrame(() => area.current?.setSelectionRange(taken.caret, taken.caret));
  };

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
    if (isOffered && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
      event.preventDefault();
      offers.point(event.key === 'ArrowDown' ? 1 : -1);
    } else if (isOffered && event.key === 'Escape') {
      event.preventDefault();
      event.stopPropagation();
      offers.close();
    } else if (event.key === 'Enter' && !event.shiftKey) {
      event.preventDefault();
      if (next) take(next);
      else if (listed !== null && !isWrong) setText(listed);
      else add();
    } else if (event.key === 'Escape' && (text !== '' || onClose)) {
      event.preventDefault();
      event.stopPropagation();
      setText('');
      onClose?.();
    }
  };
  const about = (): string => {
    if (next) return `Enter completes ‘${next.text.trim()}’. ↓ goes through the list.`;
    if (isBegun) return 'Enter starts its list: one item per line.';
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
          Each line becomes a field. Type “Amount: number” and press Enter.
        </FirstHint>
      )}
      <Textarea
        aria-label="Add a part"
        ref={area}
        aria-describedby={aboutId}
        aria-invalid={(isWrong && !next) || undefined}
        aria-autocomplete="list"
        aria-controls={isOffered ? offersId : undefined}
        aria-activedescendant={
          isOffered && offers.pointed >= 0 ? `${offersId}-${offers.pointed}` : undefined
        }
        data-add-line={spot.blockId ?? 'end'}
        autoFocus={autoFocus}
        autoresize
        rows={1}
        size="sm"
        bg="leaf"
        borderStyle="dashed"
        borderColor={isWrong && !next ? 'madder' : 'edge'}
        placeholder="Type a label, or a line of the outline"
        value={text}
        onKeyDown={onKeyDown}
        onSelect={({ currentTarget }) => setCaret(currentTarget.selectionEnd)}
        onBlur={() => setCaret(null)}
        onChange={(event) => {
          setText(event.target.value);
          setCaret(event.target.selectionEnd);
        }}
      />
      {isOffered && (
        <OffersList id={offersId} offers={offers.list} pointed={offers.pointed} onTake={take} />
      )}
      <Text id={aboutId} mt="1" fontSize="12.5px" color={isWrong && !next ? 'madder' : 'ink.soft'}>
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
      if (!column) return '';
      const { pattern } = column.settings;
      const numbers = pattern === undefined ? '' : ` ${sayFirstNumbers(pattern)} …`;
      return `${block.label ?? column.heading}, ${kindOf(column).label.toLowerCase()}${numbers}`;
    })
    .join('; ');
}
