import { foldText, ListFinder, type ListItem } from '@varn/core';
import { useMemo, useState, type KeyboardEvent } from 'react';
import { useOwnStore, type OwnStore } from '../../api/ownStore';

/** The most items that go with what is typed; more are told to type on. */
const MOST_FOUND = 1000;
/** What one person chose of late, of each column. */
const MOST_RECENT = 6;

const finders = new WeakMap<readonly ListItem[], ListFinder>();

/** What finds the items of a list: made once, whatever fields it feeds. */
export function finderOf(items: readonly ListItem[]): ListFinder {
  const finder = finders.get(items) ?? new ListFinder(items);
  finders.set(items, finder);
  return finder;
}

const recentName = (columnId: string): string => `chosen.${columnId}`;

function recentIn(own: OwnStore, columnId: string): readonly string[] {
  const held = own.read(recentName(columnId));
  return Array.isArray(held) ? (held as string[]) : [];
}

/** Items that were chosen of late first, then all in their order. */
function recentFirst(items: readonly ListItem[], recent: readonly string[]): readonly ListItem[] {
  const first = recent.flatMap((text) => items.find((item) => item.text === text) ?? []);
  return first.length === 0 ? items : [...first, ...items.filter((item) => !first.includes(item))];
}

interface ChoosingOptions {
  readonly columnId: string;
  readonly items: readonly ListItem[];
  /** What stands in the field. */
  readonly text: string;
  /** Whether anything else may be typed as well. */
  readonly isFree: boolean;
  /** Whether what was chosen of late stands first. */
  readonly isRecentFirst: boolean;
  readonly onText: (text: string) => void;
}

/** A choice being made: what is open, found, marked. */
export interface Choosing {
  readonly open: boolean;
  readonly shown: readonly ListItem[];
  readonly marked: number;
  /** What stands in the field as people read it: the label of what is chosen. */
  readonly face: string;
  /** What was typed since it was opened; `null` for nothing. */
  readonly typed: string | null;
  readonly show: (typed: string | null) => void;
  readonly hide: () => void;
  readonly take: (item: ListItem) => void;
  readonly type: (text: string) => void;
  /** @returns whether an item was taken by Enter, so that one goes on */
  readonly onKey: (event: KeyboardEvent) => boolean;
}

/** How many rows a page of the list goes. */
const PAGE = 8;

export function useChoosing(options: ChoosingOptions): Choosing {
  const { columnId, items, text, isFree, isRecentFirst, onText } = options;
  const own = useOwnStore();
  const [open, setOpen] = useState(false);
  const [typed, setTyped] = useState<string | null>(null);
  const [marked, setMarked] = useState(0);
  const shown = useMemo(() => {
    if (!open) return [];
    if (typed !== null && typed.trim() !== '') return finderOf(items).find(typed, MOST_FOUND);
    return isRecentFirst ? recentFirst(items, recentIn(own, columnId)) : items;
  }, [open, items, typed, isRecentFirst, own, columnId]);
  const chosen = useMemo(() => items.find((item) => item.text === text), [items, text]);

  const show = (from: string | null): void => {
    setTyped(from);
    setOpen(true);
    const at = chosen && !isRecentFirst ? items.indexOf(chosen) : 0;
    setMarked(isFree ? -1 : from === null ? Math.max(0, at) : 0);
  };
  const hide = (): void => setOpen(false);
  const take = (item: ListItem): void => {
    onText(item.text);
    if (isRecentFirst) {
      const before = recentIn(own, columnId).filter((each) => each !== item.text);
      own.store(recentName(columnId), [item.text, ...before].slice(0, MOST_RECENT));
    }
    hide();
  };
  const type = (next: string): void => {
    onText(next);
    show(next);
  };

  const onKey = (event: KeyboardEvent): boolean => {
    if (event.ctrlKey || event.metaKey) return false;
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: PAGE, PageUp: -PAGE }[event.key];
    const item = shown[marked];
    if (step !== undefined) {
      if (!open && Math.abs(step) > 1) return false;
      event.preventDefault();
      if (!open) show(null);
      else if (Math.abs(step) > 1) {
        setMarked(Math.max(0, Math.min(shown.length - 1, marked + step)));
      } else setMarked((marked + step + shown.length) % Math.max(1, shown.length));
    } else if (!open) return false;
    else if (event.key === 'Escape') {
      event.preventDefault();
      hide();
    } else if (event.key === 'Enter' && item !== undefined) {
      event.preventDefault();
      event.stopPropagation();
      take(item);
      return true;
    } else if (event.key === 'Tab') {
      if (typed !== null && typed.trim() !== '' && item !== undefined) take(item);
      else hide();
    }
    return false;
  };

  // While one types, what is typed stands there; a label typed out is its item's.
  const isTyping = open && typed !== null;
  const face =
    isTyping || !chosen || foldText(chosen.label) === foldText(text) ? text : chosen.label;
  return { open, shown, marked, face, typed, show, hide, take, type, onKey };
}
