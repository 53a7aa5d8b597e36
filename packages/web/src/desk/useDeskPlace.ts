import type { FormView, RecordPlaceView, RowsView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { isBlankQuestion, type Answers, type Question, type ViewOrder } from '@varn/core';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useLocation } from 'react-router';
import { landsOnTop } from '../api/applyEvent';
import { get, sayError } from '../api/client';
import type { Begun } from '../api/useBegunWork';
import { isBarFocused } from '../keys/focusBar';
import { useSteady } from '../form/useSteady';
import { lookedAddress, lookedOfAddress, type Looked } from './deskAddress';
import type { DeskState } from './deskState';
import { lastRecord, openRecord, type OpenRecord } from './openRecord';
import type { BegunRecord } from './useBegunRecord';
import type { Sending } from './useSubmit';

/** Where to step from a record: among the matches, or among all. */
export type Step = 'first' | 'back' | 'on' | 'last';

/** What is still to be read, and can be taken back, when one goes on to another record. */
export interface Carried {
  readonly sending: Sending;
  readonly desk: DeskState;
}

/** What stands in the form: a new record, or a stored one with its place. */
export interface Opened {
  /** `null` for a new record. */
  readonly record: OpenRecord | null;
  /** Its place among the matches, or among all records, from 0; `null` where that is not known. */
  readonly at: number | null;
  /** How many there are to step through. */
  readonly of: number;
  readonly carried: Carried | null;
  /** What a new record begins with, copied from another. */
  readonly copied: { readonly answers: Answers; readonly from: string } | null;
  /** Whether the bar had the focus when it was opened: there it stays, if something was told. */
  readonly isInBar: boolean;
}

/** Where one is at the desk: at which record, with which question, and how to go elsewhere. */
export interface DeskPlace {
  readonly opened: Opened;
  readonly question: Question;
  /** The question as rows are asked for; '' for all records. */
  readonly view: string;
  /** Whether the form is a question now. */
  readonly isAsking: boolean;
  /** Why one could not go there. */
  readonly trouble: string;
  readonly goTo: (recordId: string, carried?: Carried | null) => void;
  /** @param to a step, or a place from 0 */
  readonly step: (to: Step | number, carried?: Carried | null) => void;
  readonly goToNew: (more?: Partial<Pick<Opened, 'carried' | 'copied'>>) => void;
  readonly ask: (question: Question) => void;
  /** Leaves asking, and goes to the first match. */
  readonly showFirst: (question: Question) => void;
  /** In which order the matches stand; empty: as in the sheet. */
  readonly order: ViewOrder;
  readonly setOrder: (order: ViewOrder) => void;
  /** The columns the matches show, in their order; `null` for all as in the sheet. */
  readonly shown: readonly string[] | null;
  readonly setShown: (shown: readonly string[] | null) => void;
  /** What is looked at as the query of an address, without the record. */
  readonly address: string;
  readonly setAsking: (isAsking: boolean) => void;
}

/** The name of an open record in the address. */
const RECORD = 'record';

/** A question as rows are asked for; '' where it asks nothing. */
export const viewOf = (question: Question, order: ViewOrder = []): string =>
  isBlankQuestion(question)
    ? ''
    : JSON.stringify({ ...question, ...(order.length > 0 && { order }) });

/** The records one steps through: those a question finds, or all. */
interface Among {
  /** A question that is asked from now on. */
  readonly question?: Question;
  /** As rows are asked for. */
  readonly view: string;
}

const firstOf = (form: FormView): OpenRecord | null =>
  form.definition.entering?.opensOn === 'last' ? lastRecord(form) : null;

/** The record that an address opens: the one it names, else what the form begins with. */
export function openedFirst(form: FormView, search: string): string | null {
  return new URLSearchParams(search).get(RECORD) ?? firstOf(form)?.id ?? null;
}

export function useDeskPlace(form: FormView, begun: Begun<BegunRecord>): DeskPlace {
  const { sheet } = form;
  const [isAsking, setAsking] = useState(false);
  const [trouble, setTrouble] = useState('');
  const [opened, setOpened] = useState<Opened>(() => {
    const record = firstOf(form);
    const at = !record ? null : landsOnTop(form) ? 0 : sheet.count - 1;
    return { record, at, of: sheet.count, carried: null, copied: null, isInBar: false };
  });
  const { looked, look, named } = useAddress(opened.record?.id ?? null);
  const { question, order, shown } = looked;
  const setQuestion = useSteady((asked: Question) => look({ ...looked, question: asked }));
  const view = useMemo(() => viewOf(question, order), [question, order]);

  /** Leaves what stands here, which is kept if it was begun, for another record or a new one. */
  const open = async (next: Omit<Opened, 'isInBar'>, asked?: Question): Promise<void> => {
    const recordId = next.record?.id ?? null;
    // A copy begins afresh: it must not be typed over a record that was begun and left.
    const isOfIt = (work: BegunRecord): boolean =>
      !next.copied && (work.record?.id ?? null) === recordId;
    await begun.goOnWith(isOfIt, () => {
      setOpened({ ...next, isInBar: isBarFocused() });
      if (asked) setQuestion(asked);
      setAsking(false);
      setTrouble('');
    });
  };
  // Where one asked to go last counts, whichever answer comes last.
  const turn = useRef(0);
  const attempt = (go: (isStill: () => boolean) => Promise<void>): void => {
    turn.current += 1;
    const mine = turn.current;
    go(() => turn.current === mine).catch((error: unknown) => setTrouble(sayError(error)));
  };

  const goTo = async (
    recordId: string,
    carried: Carried | null,
    isStill: () => boolean,
  ): Promise<void> => {
    const path = paths.record(sheet.id, recordId);
    const { record, row, position, count } = await get<RecordPlaceView>(path);
    const place = view === '' ? { at: position, of: count } : await placeIn(view, recordId);
    const to = { record: openRecord(record, row, sheet), ...place, carried, copied: null };
    if (isStill()) await open(to);
  };

  /** Where a record stands among the first matches: beyond them stepping begins at the first. */
  const placeIn = async (
    among: string,
    recordId: string,
  ): Promise<{ at: number | null; of: number }> => {
    const { records, count } = await get<RowsView>(paths.rows(sheet.id, 0, LOOKED_THROUGH, among));
    const at = records.findIndex(({ id }) => id === recordId);
    return { at: at < 0 ? null : at, of: count };
  };

  const step = async (
    among: Among,
    to: Step | number,
    carried: Carried | null,
    isStill: () => boolean,
  ): Promise<void> => {
    const rowsFrom = (from: number, count: number): Promise<RowsView> =>
      get<RowsView>(paths.rows(sheet.id, from, count, among.view));
    const at = opened.at ?? (opened.record ? null : opened.of);
    const from = typeof to === 'number' ? to : Math.max(0, (at ?? 0) - 1);
    const near = await rowsFrom(from, 3);
    const target = typeof to === 'number' ? to : targetOf(to, at, near, opened.record?.id);
    const last = near.count - 1;
    // Behind the last of all records a new one begins.
    if (last < 0 || (target > last && opened.record && among.view === '' && to === 'on')) {
      if (isStill()) await open({ ...NEW, of: near.count, carried }, among.question);
      return;
    }
    const place = Math.min(Math.max(0, target), last);
    const isNear = place >= near.from && place < near.from + near.records.length;
    const rows = isNear ? near : await rowsFrom(place, 1);
    const record = rows.records[place - rows.from];
    if (!record || !isStill()) return;
    const row = rows.gridRows?.[place - rows.from] ?? sheet.headingRow + 1 + place;
    const stored = openRecord(record, row, sheet);
    const next = { record: stored, at: place, of: near.count, carried, copied: null };
    await open(next, among.question);
  };

  const openNamed = useSteady(() => {
    if (named && named.recordId !== opened.record?.id) {
      attempt((isStill) => goTo(named.recordId, null, isStill));
    }
  });
  useEffect(() => openNamed(), [named, openNamed]);

  return {
    opened,
    question,
    view,
    order,
    isAsking,
    trouble,
    goTo: useSteady((recordId: string, carried: Carried | null = null) =>
      attempt((isStill) => goTo(recordId, carried, isStill)),
    ),
    step: useSteady((to: Step | number, carried: Carried | null = null) =>
      attempt((isStill) => step({ view }, to, carried, isStill)),
    ),
    goToNew: useSteady((more: Partial<Pick<Opened, 'carried' | 'copied'>> = {}) =>
      attempt(() => open({ ...NEW, of: opened.of, ...more })),
    ),
    ask: setQuestion,
    showFirst: useSteady((asked: Question) =>
      attempt((isStill) => step({ question: asked, view: viewOf(asked, order) }, 0, null, isStill)),
    ),
    setOrder: useSteady((next: ViewOrder) => look({ ...looked, order: next })),
    shown,
    setShown: useSteady((next: readonly string[] | null) => look({ ...looked, shown: next })),
    address: lookedAddress(looked),
    setAsking,
  };
}

/** How long the address waits for the next key of a question. */
const ADDRESS_PAUSE_MS = 300;

/**
 * The question and the record in the page's address: read from it where someone was handed it, and
 * written into it as one goes on.
 */
function useAddress(recordId: string | null): {
  looked: Looked;
  look: (looked: Looked) => void;
  /** The record that an address from elsewhere names. */
  named: { readonly recordId: string } | null;
} {
  const { search, key } = useLocation();
  const [looked, look] = useState(() => lookedOfAddress(search));
  const [named, setNamed] = useState<{ recordId: string } | null>(null);
  const adopt = useSteady(() => {
    look(lookedOfAddress(search));
    const record = new URLSearchParams(search).get(RECORD);
    setNamed(record === null ? null : { recordId: record });
  });
  useEffect(() => adopt(), [key, adopt]);
  // Not by the router: that would call back whoever is on the way to another place.
  const write = useSteady(() => {
    const record = recordId === null ? '' : `${RECORD}=${encodeURIComponent(recordId)}`;
    const query = [lookedAddress(looked), record].filter((part) => part !== '').join('&');
    const { pathname } = window.location;
    window.history.replaceState(
      window.history.state,
      '',
      query === '' ? pathname : `${pathname}?${query}`,
    );
  });
  const isFirst = useRef(true);
  useEffect(() => {
    // What the address names is opened before the address follows what is open.
    if (isFirst.current) {
      isFirst.current = false;
      return;
    }
    const pause = setTimeout(write, ADDRESS_PAUSE_MS);
    return () => clearTimeout(pause);
  }, [looked, recordId, write]);
  return { looked, look, named };
}

/** Where the record in the form stands, as far as that is known of this one. */
export function placeOf({ opened }: DeskPlace, record: OpenRecord | null): Opened {
  return { ...opened, record, at: opened.record?.id === record?.id ? opened.at : null };
}

const NEW = { record: null, at: null, of: 0, carried: null, copied: null };

/** As many matches as one page has are looked through for the place of a record. */
const LOOKED_THROUGH = 1000;

/**
 * The place a step leads to. A record may have gone from where it stood, as one that matches no
 * more does: then the next one stands there.
 */
function targetOf(
  to: Step,
  at: number | null,
  near: Pick<RowsView, 'from' | 'records' | 'count'>,
  recordId: string | undefined,
): number {
  if (to === 'first' || at === null) return to === 'last' ? near.count - 1 : 0;
  if (to === 'last') return near.count - 1;
  const found = near.records.findIndex(({ id }) => id === recordId);
  const here = found < 0 ? at : near.from + found;
  if (to === 'back') return here - 1;
  return found < 0 ? here : here + 1;
}
