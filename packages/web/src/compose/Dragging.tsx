import {
  DndContext,
  PointerSensor,
  useDraggable,
  useSensor,
  useSensors,
  type Collision,
  type CollisionDetection,
  type DragEndEvent,
  type DragMoveEvent,
  type DragStartEvent,
} from '@dnd-kit/core';
import { useState, type CSSProperties, type PointerEvent, type ReactNode } from 'react';
import type { PagePlace } from './edits';

/** Before the id of a column whose heading is lifted out of the strip. */
export const STRIP = 'strip/';

/** A block's right part stands for the place beside it. */
const BESIDE_FROM = 0.72;
const LINE_PX = 4;
/** Between two blocks the one this near is meant. */
const NEAR_PX = 14;

/** Where what is dragged would land, and the line that shows it. */
interface Landing {
  readonly spot: PagePlace;
  readonly line: CSSProperties;
}

interface DraggingProps {
  /** Told what was dragged (`data-drag`: a block's id, or `STRIP` and a column's), and where to. */
  readonly onDrop: (draggedId: string, spot: PagePlace) => void;
  readonly children: ReactNode;
}

/**
 * Dragging: nothing on the page moves while one drags, only a line shows where the block would
 * land. Frames and headings are not draggable parts of their own: one part stands for them all,
 * and what lies under the pointer is asked of the browser, so that a form of hundreds of fields
 * keeps up.
 */
export function Dragging({ onDrop, children }: DraggingProps) {
  const [line, setLine] = useState<CSSProperties | null>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const stop = (event: DragEndEvent | DragStartEvent): void => {
    setLine(null);
    draggedOf(event)?.toggleAttribute('data-moving', false);
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={underPointer}
      onDragStart={(event) => draggedOf(event)?.toggleAttribute('data-moving', true)}
      onDragMove={(event) => {
        const found = landingOf(event);
        setLine((held) => (found ? sameOr(held, found.line) : null));
      }}
      onDragEnd={(event) => {
        stop(event);
        const dragged = draggedOf(event)?.dataset['drag'];
        const found = landingOf(event);
        if (dragged !== undefined && found) onDrop(dragged, found.spot);
      }}
      onDragCancel={stop}
      autoScroll
    >
      <Everything>{children}</Everything>
      {line && <div className="compose-drop" style={line} />}
    </DndContext>
  );
}

/** The one draggable part: a press on a grip, or on a heading, begins the dragging of what it is of. */
function Everything({ children }: { children: ReactNode }) {
  const { setNodeRef, listeners } = useDraggable({ id: 'everything' });
  const onPointerDown = (event: PointerEvent): void => {
    const target = event.target as HTMLElement;
    if (!target.closest('[data-grip]')) return;
    // What scrolls while one drags is what scrolls the page, wherever the drag began.
    setNodeRef(document.querySelector<HTMLElement>('[data-frame]'));
    listeners?.['onPointerDown']?.(event);
  };
  return (
    <div className="dragging" onPointerDown={onPointerDown}>
      {children}
    </div>
  );
}

function draggedOf({ activatorEvent }: Pick<DragStartEvent, 'activatorEvent'>): HTMLElement | null {
  const { target } = activatorEvent;
  return target instanceof Element ? target.closest<HTMLElement>('[data-drag]') : null;
}

const frameAt = (x: number, y: number): HTMLElement | null =>
  document.elementFromPoint(x, y)?.closest<HTMLElement>('[data-frame]') ?? null;

/** Gives the landing under the pointer as the one collision there is. */
const underPointer: CollisionDetection = ({ pointerCoordinates }) => {
  if (!pointerCoordinates) return [];
  const { x, y } = pointerCoordinates;
  const frame = frameAt(x, y) ?? frameAt(x, y - NEAR_PX) ?? frameAt(x, y + NEAR_PX);
  if (!frame) return [];
  const landing: Landing = landingIn(frame, x, y);
  const collision: Collision = { id: frame.dataset['frame'] ?? '', data: { landing } };
  return [collision];
};

function landingOf(event: DragMoveEvent | DragEndEvent): Landing | null {
  const found = event.collisions?.[0];
  if (!found || found.id === draggedOf(event)?.dataset['drag']) return null;
  return (found.data as { landing: Landing }).landing;
}

function landingIn(frame: HTMLElement, x: number, y: number): Landing {
  const { top, left, width, height } = frame.getBoundingClientRect();
  const blockId = frame.dataset['frame'] ?? '';
  if (x - left > width * BESIDE_FROM && y > top && y < top + height) {
    return {
      spot: { blockId, side: 'beside' },
      line: { top, left: left + width - LINE_PX / 2, width: LINE_PX, height },
    };
  }
  const side = y < top + height / 2 ? 'before' : 'after';
  const edge = side === 'before' ? top : top + height;
  return {
    spot: { blockId, side },
    line: { top: edge - LINE_PX / 2, left, width, height: LINE_PX },
  };
}

function sameOr(held: CSSProperties | null, next: CSSProperties): CSSProperties {
  const isSame = held?.top === next.top && held?.left === next.left && held?.width === next.width;
  return isSame && held ? held : next;
}
