import type {
  ListChangeView,
  ListItemView,
  ListsView,
  ListView,
  SpliceView,
  TriedListView,
} from '@varn/contract';
import { paths } from '@varn/contract/paths';
import {
  ListIndex,
  type Column,
  type ListItem,
  type ListSettings,
  type Splice,
  spliced,
} from '@varn/core';
import { useMemo } from 'react';
import useSWR, { type ScopedMutator } from 'swr';
import { request } from './client';
import { amend, readAgain } from './held';

/** A list as it is offered: its items, and what is typed for them. */
export interface ChoiceList {
  readonly items: readonly ListItem[];
  readonly index: ListIndex;
  /** Why nothing is offered. */
  readonly problem: string | undefined;
}

/** The lists that feed a sheet's columns, by column. */
export type ListsByColumn = ReadonlyMap<string, ChoiceList>;

const NONE: ListsByColumn = new Map();
const NO_TEXTS: readonly never[] = [];

/** Draws a list's items from what the server told of them. */
function itemOf({ value, text, label, second, by, fills, use }: ListItemView): ListItem {
  const shown = text ?? String(value);
  return {
    value,
    text: shown,
    label: label ?? shown,
    second: second ?? '',
    by: by ?? NO_TEXTS,
    fills: fills ?? NO_TEXTS,
    ...(use !== undefined && { use }),
  };
}

/** What was made of a list as it was told: made once, and taken over by what is told of it after. */
const made = new WeakMap<ListView, ChoiceList>();

function choiceList(view: ListView): ChoiceList {
  const held = made.get(view);
  if (held) return held;
  const items = view.items.map(itemOf);
  const list = { items, index: new ListIndex(items, view.exact), problem: view.problem };
  made.set(view, list);
  return list;
}

/** A list after what was told of it; `null` where it is to be read anew. */
function listAfter(view: ListView, change: ListChangeView): ListView | null {
  if (change.version <= view.version) return view;
  if (change.from !== view.version || !change.splices || view.problem !== undefined) return null;
  const { items, index } = choiceList(view);
  const splices = change.splices.map((each): Splice => ({
    ...each,
    items: each.items.map(itemOf),
  }));
  let before = items;
  for (const splice of splices) {
    for (const item of before.slice(splice.at, splice.at + splice.remove)) index.remove(item);
    for (const item of splice.items) index.add(item);
    before = spliced(before, [splice]);
  }
  const after: ListView = {
    ...view,
    version: change.version,
    items: viewsAfter(view.items, change.splices),
  };
  made.set(after, { items: before, index, problem: undefined });
  return after;
}

function viewsAfter(
  items: readonly ListItemView[],
  splices: readonly SpliceView[],
): ListItemView[] {
  const after = [...items];
  for (const { at, remove, items: come } of splices) after.splice(at, remove, ...come);
  return after;
}

const isLists = (path: string): boolean => /^\/api\/sheets\/[^/]+\/lists$/.test(path);
/** The Lists place, a list looked at closely, and the notices of what breaks. */
const isOfPlace = (path: string): boolean =>
  /^\/api\/(?:workbooks\/[^/]+\/(?:lists|outbox)|sheets\/[^/]+\/columns\/[^/]+\/list)$/.test(path);

/**
 * A sheet's lists after what was told of lists.
 *
 * @returns the same where it concerns none of them; `isLost` where one is to be read anew
 */
export function listsAfter(
  held: ListsView,
  changes: readonly ListChangeView[],
): { after: ListsView; isLost: boolean } {
  let isLost = false;
  const lists = held.lists.map((view) => {
    const change = changes.find(({ columnIds }) =>
      columnIds.some((id) => view.columnIds.includes(id)),
    );
    const after = change ? listAfter(view, change) : view;
    isLost ||= after === null;
    return after ?? view;
  });
  const isSame = lists.every((view, n) => view === held.lists[n]);
  return { after: isSame ? held : { ...held, lists }, isLost };
}

/** Brings what was told of lists into what is held of them. */
export function applyLists(mutate: ScopedMutator, changes: readonly ListChangeView[]): void {
  let isLost = false;
  amend<ListsView>(mutate, isLists, (held) => {
    const found = listsAfter(held, changes);
    isLost ||= found.isLost;
    return found.after;
  });
  readAgain(mutate, (path) => isOfPlace(path) || (isLost && isLists(path)));
}

/** Reads all lists anew: what was told of them while the stream of events was broken is not known. */
export function readListsAnew(mutate: ScopedMutator): void {
  readAgain(mutate, (path) => isLists(path) || isOfPlace(path));
}

/** The lists of a sheet by the columns they feed. */
export const byColumn = ({ lists }: ListsView): ListsByColumn =>
  new Map(lists.flatMap((view) => view.columnIds.map((id) => [id, choiceList(view)] as const)));

/** What is offered in a sheet's columns; nothing while it is read. */
export function useSheetLists(
  sheetId: string,
  columns: readonly Column[],
): { lists: ListsByColumn; isLoading: boolean } {
  const isFed = columns.some(({ settings }) => settings.list);
  const { data, isLoading } = useSWR<ListsView, unknown>(isFed ? paths.sheetLists(sheetId) : null);
  const lists = useMemo(() => (data ? byColumn(data) : NONE), [data]);
  return { lists, isLoading: isFed && isLoading };
}

/** The most items that a list which is only tried offers. */
const MOST_TRIED = 1000;
/** How long what is asked by two places of a page is asked once. */
const DEDUPED_MS = 300;

/** The same of columns that are not in the sheet yet, or say otherwise there. */
export function useTriedLists(
  sheetId: string,
  columns: readonly Column<string>[] | null,
): ListsByColumn {
  const fed = columns?.flatMap(({ id, settings: { list } }) => (list ? [{ id, list }] : [])) ?? [];
  const key = fed.length === 0 ? null : JSON.stringify([sheetId, fed.map(({ list }) => list)]);
  const { data } = useSWR(
    key,
    () => Promise.all(fed.map(({ list }) => tryList(sheetId, list, MOST_TRIED))),
    { keepPreviousData: true, dedupingInterval: DEDUPED_MS },
  );
  return useMemo(() => {
    if (!data) return NONE;
    return new Map(
      fed.flatMap(({ id }, n) => {
        const tried = data[n];
        if (!tried) return [];
        const items = tried.items.map(itemOf);
        return [[id, { items, index: new ListIndex(items), problem: tried.problem }] as const];
      }),
    );
    // eslint-disable-next-line react-hooks/exhaustive-deps -- `key` tells of `fed`
  }, [data, key]);
}

export const tryList = (
  sheetId: string,
  list: ListSettings,
  most?: number,
): Promise<TriedListView> =>
  request<TriedListView>('POST', paths.tryList(sheetId), {
    list,
    ...(most !== undefined && { most }),
  });

const typed = new WeakMap<readonly string[], readonly ListItem[]>();
const NO_ITEMS: readonly ListItem[] = [];

/** What a column offers: its list, or the choices that are typed into its settings. */
export function offeredIn(column: Column, lists: ListsByColumn): readonly ListItem[] {
  const { list, choices } = column.settings;
  if (list) return lists.get(column.id)?.items ?? NO_ITEMS;
  if (!choices) return NO_ITEMS;
  let items = typed.get(choices);
  if (!items) {
    items = choices.map((value) => itemOf({ value }));
    typed.set(choices, items);
  }
  return items;
}
