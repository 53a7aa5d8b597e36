import { Box } from '@chakra-ui/react';
import { columnIdsOf, isEntry, isTyped, type Column } from '@varn/core';
import { memo } from 'react';
import { FirstHint } from '../ui/FirstHint';
import { KindGlyph } from '../ui/KindGlyph';
import { STRIP } from './Dragging';
import type { Composing } from './useCompose';

interface HeadingStripProps {
  readonly composing: Composing;
  readonly chosen: string | null;
  readonly onChoose: (blockId: string) => void;
  /** Lifts a column that is not on the page up onto it. */
  readonly onLift: (columnId: string) => void;
}

/**
 * The sheet's heading as the form will write it. Headings on the page are solid and light up with
 * their field; the others stand hollow, and are lifted up onto the page.
 */
export const HeadingStrip = memo(function HeadingStrip(props: HeadingStripProps) {
  const { composing, chosen, onChoose, onLift } = props;
  const { blocks } = composing.layout.definition;
  const owner = new Map(
    blocks.flatMap((block) => columnIdsOf(block).map((id) => [id, block] as const)),
  );
  return (
    <>
      <div className="heading-strip" role="group" aria-label="Heading of the sheet" tabIndex={0}>
        {composing.columns.map((column) => {
          const block = owner.get(column.id);
          const isComing = !composing.inSheet.has(column.id);
          if (!block) {
            return (
              <OpenHeading key={column.id} column={column} isComing={isComing} onLift={onLift} />
            );
          }
          const required = isEntry(block) && (block.required ?? block.requiredWhen !== undefined);
          return (
            <button
              key={column.id}
              type="button"
              className={`heading-chip placed${isComing ? ' coming' : ''}${
                block.id === chosen ? ' lit' : ''
              }`}
              aria-pressed={block.id === chosen}
              onClick={() => onChoose(block.id)}
            >
              <KindGlyph kind={column.kind} />
              {column.heading}
              {required && <span>required</span>}
            </button>
          );
        })}
        {composing.columns.length === 0 && <span>The sheet has no columns yet.</span>}
      </div>
      {composing.columns.some(({ id }) => !owner.has(id)) && (
        <Box px="5">
          <FirstHint id="headingStrip">
            These are the sheet’s columns. Press a dashed one to add it to the form.
          </FirstHint>
        </Box>
      )}
    </>
  );
});

interface OpenHeadingProps {
  readonly column: Column<string>;
  readonly isComing: boolean;
  readonly onLift: (columnId: string) => void;
}

function OpenHeading({ column, isComing, onLift }: OpenHeadingProps) {
  return (
    <button
      type="button"
      className={`heading-chip open${isComing ? ' coming' : ''}`}
      aria-label={`Add ${column.heading} to the form`}
      data-drag={`${STRIP}${column.id}`}
      data-grip
      onClick={() => onLift(column.id)}
    >
      <KindGlyph kind={column.kind} />
      {column.heading}
      {!isTyped(column) && <span>shown</span>}
    </button>
  );
}
