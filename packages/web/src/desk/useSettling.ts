import type { RecordHistoryView, RecordPlaceView, SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { settle, type Answers } from '@varn/core';
import { useEffect, useMemo, useState } from 'react';
import useSWR from 'swr';
import { focusField } from '../form/focus';
import type { FormFilling } from '../form/useFilling';
import { useSteady } from '../form/useSteady';
import { ApiRefusal } from '../api/client';
import { answersOf, openRecord, type OpenRecord } from './openRecord';

/** An input that both changed, each to something else. */
export interface Contest {
  readonly inputId: string;
  readonly mine: string;
  readonly theirs: string;
}

export interface Settling {
  /** The record as my corrections are on top of it: as it is stored by now. */
  readonly base: OpenRecord | null;
  /** Who changed it since it was opened, and when; `null` where nobody did. */
  readonly by: { readonly name: string; readonly at: number } | null;
  /** Inputs in which theirs was taken, as mine had nothing new. */
  readonly taken: readonly string[];
  /** What is to be decided. */
  readonly contests: readonly Contest[];
  readonly decide: (inputId: string, whose: 'mine' | 'theirs') => void;
  /** Whether someone deleted it meanwhile. */
  readonly isGone: boolean;
  /** Who deleted it, and when, and its revision in the bin; `null` until that is known. */
  readonly removed: Removed | null;
}

export interface Removed {
  readonly by: string;
  readonly at: number;
  readonly revision: number;
}

/**
 * Watches a stored record while it is corrected. What someone else changed meanwhile is brought in
 * where I changed nothing, and to be decided where I did.
 */
export function useSettling(
  record: OpenRecord | null,
  filled: FormFilling,
  sheet: SheetView,
): Settling {
  const path = record ? paths.record(sheet.id, record.id) : null;
  const { data: place, error } = useSWR<RecordPlaceView, unknown>(path, {
    revalidateOnMount: true,
    dedupingInterval: 0,
  });
  const [base, setBase] = useState(record);
  const [taken, setTaken] = useState<readonly string[]>([]);
  const [open, setOpen] = useState<ReadonlyMap<string, Contest>>(new Map());
  const isOther = base !== null && place !== undefined && place.record.revision > base.revision;
  const isGone = error instanceof ApiRefusal && error.refusal.statusCode === 404;
  const { data: history } = useSWR<RecordHistoryView, unknown>(
    record && (isGone || isOther || base?.revision !== record.revision)
      ? paths.recordHistory(sheet.id, record.id)
      : null,
  );

  const bringIn = useSteady(() => {
    if (!place || !base || !isOther || filled.isLoading) return;
    const theirs = openRecord(place.record, place.row, sheet);
    const at = (of: OpenRecord): Answers => answersOf(of, filled);
    const settled = settle(at(base), filled.answers, at(theirs));
    filled.bringBack({ answers: settled.texts, untouched: filled.untouched });
    setBase(theirs);
    setTaken((held) => [...new Set([...held, ...settled.taken])]);
    setOpen((held) => {
      const next = new Map(held);
      for (const inputId of settled.contested) {
        const [mine = '', other = ''] = [filled.answers[inputId], at(theirs)[inputId]];
        next.set(inputId, { inputId, mine, theirs: other });
      }
      return next;
    });
  });
  useEffect(() => bringIn(), [place, filled.isLoading, bringIn]);

  const last = history?.entries.find(({ kind }) => kind === 'recordChanged');
  const [newest] = history?.entries ?? [];
  return {
    base,
    by: last && base?.revision !== record?.revision ? { name: last.by, at: last.at } : null,
    taken,
    contests: useMemo(() => [...open.values()], [open]),
    decide: useSteady((inputId: string, whose: 'mine' | 'theirs') => {
      const contest = open.get(inputId);
      if (!contest) return;
      filled.type(inputId, contest[whose]);
      focusField(inputId);
      setOpen((held) => new Map([...held].filter(([id]) => id !== inputId)));
    }),
    isGone,
    removed: isGone && newest?.kind === 'recordRemoved' ? newest : null,
  };
}
