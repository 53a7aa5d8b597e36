import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { BegunPlace } from './begunWork';
import { newId } from './newId';
import { useOwnStore } from './ownStore';

/** What one window works on at a place. */
export interface Begun<T> {
  /** Whether it was looked for what was left here. */
  readonly isReady: boolean;
  /** The write id of what is worked on. */
  readonly id: string;
  /** What was left here, where the work goes on with it. */
  readonly found: T | null;
  /** Rises when other work is taken up: what shows it begins anew. */
  readonly visit: number;
  /** How much else was left here. */
  readonly waiting: number;
  /** What is kept of it now. */
  readonly read: () => T | null;
  /** @param work `null` when there is nothing to keep yet */
  readonly keep: (work: T | null) => void;
  /** It was written: on to something new. */
  readonly done: () => void;
  /** The write id was used, by another window: goes on under a new one. */
  readonly renew: () => void;
  /** Leaves what is worked on, and goes on with something else that was left. */
  readonly takeUp: () => void;
  /**
   * Leaves what is worked on for this: as it was left, or afresh where none was.
   *
   * @param then what is to change with it, at the same moment
   */
  readonly goOnWith: (isWanted: (work: T) => boolean, then?: () => void) => Promise<void>;
  /** All that was begun here, by whichever window. */
  readonly all: () => T[];
}

interface Working<T> {
  readonly id: string;
  readonly found: T | null;
  readonly isReady: boolean;
  readonly visit: number;
}

/**
 * Takes up what was begun at a place and left, or begins anew; keeps it until it is written.
 *
 * @param isWanted what of it may be taken up at first
 */
export function useBegunWork<T>(
  place: string,
  isKept: boolean,
  isWanted?: (work: T) => boolean,
): Begun<T> {
  const own = useOwnStore();
  const begun = useMemo(() => new BegunPlace<T>(own, place), [own, place]);
  const [working, setWorking] = useState<Working<T>>(() => ({
    id: newId(),
    found: null,
    isReady: !isKept,
    visit: 0,
  }));
  const [waiting, setWaiting] = useState(0);
  const firstWanted = useRef(isWanted);
  const id = useRef(working.id);
  const visit = useRef(0);

  const workOn = useCallback(
    (next: string, found: T | null, isVisit: boolean) => {
      begun.begin(next);
      id.current = next;
      if (isVisit) visit.current += 1;
      setWorking({ id: next, found, isReady: true, visit: visit.current });
      void begun.waiting().then(setWaiting);
    },
    [begun],
  );

  useEffect(() => {
    if (!isKept) return;
    let isGone = false;
    void begun.takeUp(1, '', firstWanted.current).then(([left]) => {
      if (!isGone) workOn(left?.id ?? id.current, left?.work ?? null, true);
      else if (left) begun.release(left.id);
    });
    return () => {
      isGone = true;
      begun.release(id.current);
    };
  }, [begun, isKept, workOn]);

  const done = useCallback(() => {
    begun.drop(id.current);
    begun.release(id.current);
    workOn(newId(), null, false);
  }, [begun, workOn]);
  const renew = useCallback(() => {
    const work = begun.read(id.current)?.work ?? null;
    const next = newId();
    if (work !== null) begun.keep(next, work);
    begun.drop(id.current);
    begun.release(id.current);
    workOn(next, work, false);
  }, [begun, workOn]);
  const takeUp = useCallback(() => {
    const leaving = id.current;
    void begun.takeUp(1, leaving).then(([left]) => {
      if (!left) return;
      begun.release(leaving);
      workOn(left.id, left.work, true);
    });
  }, [begun, workOn]);

  const goOnWith = useCallback(
    async (isWanted: (work: T) => boolean, then?: () => void) => {
      const leaving = id.current;
      const [left] = isKept ? await begun.takeUp(1, leaving, isWanted) : [];
      begun.release(leaving);
      then?.();
      workOn(left?.id ?? newId(), left?.work ?? null, true);
    },
    [begun, isKept, workOn],
  );
  // Who is left while it is drawn keeps what is its own, to the last.
  const { id: ownId, visit: ownVisit } = working;

  return {
    ...working,
    waiting,
    read: useCallback(() => begun.read(id.current)?.work ?? null, [begun]),
    keep: useCallback(
      (work: T | null) => {
        if (!isKept) return;
        const own = visit.current === ownVisit ? id.current : ownId;
        if (work === null) begun.drop(own);
        else begun.keep(own, work);
      },
      [begun, isKept, ownId, ownVisit],
    ),
    done,
    renew,
    takeUp,
    goOnWith,
    all: useCallback(() => begun.kept().map(({ work }) => work), [begun]),
  };
}
