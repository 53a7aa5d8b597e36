import { isEntry, labelOfBlock, type Block, type ColumnsById } from '@varn/core';
import { GripVertical, Plus } from 'lucide-react';
import { memo, type KeyboardEvent, type ReactNode } from 'react';
import './compose.css';

export interface FrameActions {
  readonly onChoose: (blockId: string) => void;
  readonly onStep: (blockId: string, by: 1 | -1) => void;
  readonly onBeside: (blockId: string, isBeside: boolean) => void;
  readonly onTakeOff: (blockId: string) => void;
  readonly onAddAfter: (blockId: string) => void;
}

interface BlockFrameProps extends FrameActions {
  readonly block: Block;
  readonly columns: ColumnsById;
  readonly isChosen: boolean;
  readonly part: ReactNode;
}

const NAMES: Readonly<Record<Block['is'], string>> = {
  field: 'field',
  group: 'fields',
  heading: 'heading',
  note: 'note',
  picture: 'picture',
  message: 'live message',
  divider: 'divider',
  page: 'page',
};

/**
 * A block as it is laid out: what it will look like, in a frame that is chosen, moved and taken
 * off, by the mouse or by keys alone.
 */
export const BlockFrame = memo(function BlockFrame(props: BlockFrameProps) {
  const { block, columns, isChosen, part } = props;
  const { id } = block;
  const name = labelOfBlock(block, columns);

  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.target !== event.currentTarget) return;
    const act = (): (() => void) | null => {
      if (event.altKey) {
        if (event.key === 'ArrowUp') return () => props.onStep(id, -1);
        if (event.key === 'ArrowDown') return () => props.onStep(id, 1);
        if (event.key === 'ArrowRight') return () => props.onBeside(id, true);
        if (event.key === 'ArrowLeft') return () => props.onBeside(id, false);
        return null;
      }
      if (event.ctrlKey || event.metaKey) return null;
      if (event.key === 'Enter' || event.key === ' ') return () => props.onChoose(id);
      if (event.key === 'Delete') return () => props.onTakeOff(id);
      if (event.key === '+') return () => props.onAddAfter(id);
      if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
        return () =>
          focusFrame(event.currentTarget as HTMLElement, event.key === 'ArrowDown' ? 1 : -1);
      }
      return null;
    };
    const run = act();
    if (!run) return;
    event.preventDefault();
    run();
  };

  return (
    <div
      className={`frame${isChosen ? ' chosen' : ''}${block.is === 'page' ? ' page-break' : ''}`}
      data-frame={id}
      data-drag={id}
      tabIndex={0}
      role="group"
      aria-label={`${name}: ${NAMES[block.is]}${isChosen ? ', chosen' : ''}`}
      aria-keyshortcuts="Alt+ArrowUp Alt+ArrowDown Alt+ArrowLeft Alt+ArrowRight"
      onKeyDown={onKeyDown}
      onClick={() => props.onChoose(id)}
    >
      <div className="frame-part" inert>
        {block.is === 'page' ? (
          <div className="page-name">Page: {block.title || 'without a title'}</div>
        ) : block.is === 'message' ? (
          <div className="message-name">
            {part}
            <span>Live message: ={block.formula}</span>
          </div>
        ) : (
          (part ?? <div className="page-name">Its column is gone</div>)
        )}
        {block.shownWhen !== undefined && (
          <div className="frame-condition">shown when {block.shownWhen}</div>
        )}
        {isEntry(block) && block.requiredWhen !== undefined && (
          <div className="frame-condition">required when {block.requiredWhen}</div>
        )}
      </div>
      <button
        type="button"
        className="frame-grip"
        aria-label={`Drag ${name}`}
        tabIndex={-1}
        data-grip
      >
        <GripVertical size={14} aria-hidden />
      </button>
      <button
        type="button"
        className="frame-add"
        aria-label={`Add a part after ${name}`}
        tabIndex={-1}
        onClick={(event) => {
          event.stopPropagation();
          props.onAddAfter(id);
        }}
      >
        <Plus size={13} aria-hidden />
      </button>
    </div>
  );
});

/** Goes to the frame before or after one. */
function focusFrame(from: HTMLElement, by: 1 | -1): void {
  const frames = [...document.querySelectorAll<HTMLElement>('[data-frame], [data-add-line="end"]')];
  frames[frames.indexOf(from) + by]?.focus();
}
