import type { ListItem } from '@varn/core';
import { useLayoutEffect, useRef, useState, type CSSProperties } from 'react';
import './list.css';

/** Rows of one line and of two; on a phone there is room for a finger. */
const LINE_PX = 30;
const TWO_LINES_PX = 46;
const FINGER_PX = 48;
/** Rows drawn beyond those that are seen, and those looked at for how tall and wide they are. */
const BEYOND = 6;
const LOOKED_AT = 300;
const LETTER_PX = 7.6;

interface ListBoxProps {
  readonly id: string;
  readonly labelId: string;
  readonly items: readonly ListItem[];
  /** The place of the item that keys are on; -1 for none. */
  readonly marked: number;
  /** What is chosen, as it is typed. */
  readonly text: string;
  /** What fields beside this one have taken already. */
  readonly taken: ReadonlySet<string>;
  readonly height: number;
  readonly isPhone?: boolean;
  /** What is said where no item goes with what was typed. */
  readonly blank: string;
  readonly onTake: (item: ListItem) => void;
}

/** How wide a list is drawn so that its labels can be read. */
export function widthOf(items: readonly ListItem[]): number {
  const longest = items
    .slice(0, LOOKED_AT)
    .reduce((most, { label, second }) => Math.max(most, label.length, second.length), 0);
  return Math.min(460, Math.round(longest * LETTER_PX) + 44);
}

/** The items of a list, of which only those in sight are drawn (ARIA's listbox). */
export function ListBox(props: ListBoxProps) {
  const { id, labelId, items, marked, text, taken, height, isPhone = false } = props;
  const box = useRef<HTMLDivElement>(null);
  const [top, setTop] = useState(0);
  const hasTwo = items.slice(0, LOOKED_AT).some(({ second }) => second !== '');
  const row = isPhone ? FINGER_PX : hasTwo ? TWO_LINES_PX : LINE_PX;
  const seen = Math.min(height, Math.max(1, items.length) * row);
  const from = Math.max(0, Math.floor(top / row) - BEYOND);
  const to = Math.min(items.length, Math.ceil((top + seen) / row) + BEYOND);

  // What keys are on stays in sight.
  useLayoutEffect(() => {
    const element = box.current;
    if (!element || marked < 0) return;
    const at = marked * row;
    if (at < element.scrollTop) element.scrollTop = at;
    else if (at + row > element.scrollTop + seen) element.scrollTop = at + row - seen;
  }, [marked, row, seen, items]);

  return (
    <div
      ref={box}
      id={id}
      role="listbox"
      aria-labelledby={labelId}
      className={`list-box${isPhone ? ' phone' : ''}`}
      style={{ height: seen }}
      // The field keeps the focus while the list is clicked.
      onMouseDown={(event) => event.preventDefault()}
      onScroll={({ currentTarget }) => setTop(currentTarget.scrollTop)}
    >
      {items.length === 0 ? (
        <div className="list-row none" role="option" aria-disabled aria-selected={false}>
          {props.blank}
        </div>
      ) : (
        <div style={{ height: items.length * row }} role="presentation">
          {items.slice(from, to).map((item, n) => {
            const at = from + n;
            return (
              <Row
                // By its place: at each key the rows say something else, and none is made anew.
                key={n}
                id={`${id}-${at}`}
                item={item}
                place={{ top: at * row, height: row }}
                at={at}
                count={items.length}
                isMarked={at === marked}
                isChosen={item.text === text}
                isTaken={taken.has(item.text)}
                onTake={props.onTake}
              />
            );
          })}
        </div>
      )}
    </div>
  );
}

interface RowProps {
  readonly id: string;
  readonly item: ListItem;
  readonly place: CSSProperties;
  readonly at: number;
  readonly count: number;
  readonly isMarked: boolean;
  readonly isChosen: boolean;
  readonly isTaken: boolean;
  readonly onTake: (item: ListItem) => void;
}

function Row({ id, item, place, at, count, isMarked, isChosen, isTaken, onTake }: RowProps) {
  const { label, second } = item;
  return (
    <div
      id={id}
      role="option"
      aria-selected={isChosen}
      aria-setsize={count}
      aria-posinset={at + 1}
      className={`list-row${isMarked ? ' marked' : ''}${isChosen ? ' chosen' : ''}`}
      style={place}
      title={label}
      onClick={() => onTake(item)}
    >
      <span className="list-label">
        <bdi>{label}</bdi>
        {second !== '' && <small dir="auto">{second}</small>}
      </span>
      {isTaken && <span className="list-taken">already chosen</span>}
    </div>
  );
}
