import type { DraftSaved, DraftView, SaveDraft } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import {
  columnIdsOf,
  localeFacts,
  plannedColumns,
  type Column,
  type FormulaGround,
} from '@varn/core';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { ApiRefusal, get, request, sayError, type NoAnswer } from '../api/client';
import { insist } from '../api/insist';
import { useSteady } from '../form/useSteady';
import type { Layout } from './edits';

/** How long changes are gathered before they are kept. */
const REST_MS = 350;
const MOST_UNDONE = 200;

/** Where keeping the draft stands. */
export type Keeping =
  | { readonly is: 'kept' | 'keeping' }
  /** No answer came; it is sent again. */
  | { readonly is: 'waiting'; readonly why: NoAnswer }
  /** Someone else changed the form since. */
  | { readonly is: 'contested' }
  | { readonly is: 'refused'; readonly message: string };

/** A form that is being laid out. */
export interface Composing {
  readonly layout: Layout;
  /** The sheet's columns with those that come with the form. */
  readonly columns: readonly Column<string>[];
  readonly inSheet: ReadonlySet<string>;
  /** What formulas can call. */
  readonly ground: FormulaGround;
  /** Changes the layout. Changes of one sitting are taken back as one. */
  readonly edit: (change: (layout: Layout) => Layout, sitting?: string) => void;
  readonly undo: (() => void) | null;
  readonly redo: (() => void) | null;
  readonly keeping: Keeping;
  /** Keeps what is not kept yet, and gives the draft's revision. */
  readonly keepNow: () => Promise<number>;
  /** The draft as someone else left it. */
  readonly readTheirs: () => Promise<DraftView>;
  /** Takes the form as someone else left it. */
  readonly takeTheirs: () => void;
  /** Keeps what is laid out here over what someone else left, once that was looked at. */
  readonly keepMine: (theirs: DraftView) => void;
}

interface Steps {
  readonly past: readonly Layout[];
  readonly now: Layout;
  readonly next: readonly Layout[];
  /** The sitting the last change was made in. */
  readonly sitting?: string | undefined;
}

const layoutOf = ({ form, columns }: DraftView): Layout => ({
  definition: form.definition,
  columns,
});

/** Holds a draft as it is edited: at once on the page, and kept on the server a moment later. */
export function useCompose(draft: DraftView, readAnew: () => Promise<unknown>): Composing {
  const [steps, setSteps] = useState<Steps>(() => ({ past: [], now: layoutOf(draft), next: [] }));
  const [keeping, setKeeping] = useState<Keeping>({ is: 'kept' });
  const revision = useRef(draft.revision);
  const kept = useRef(steps.now);
  const running = useRef<Promise<number> | null>(null);
  const latest = useRef(steps.now);
  const contested = useRef(false);
  const { id } = draft.form;

  useEffect(() => {
    latest.current = steps.now;
  }, [steps.now]);

  /** Sends a layout until there is an answer. */
  const send = useCallback(
    async (layout: Layout): Promise<void> => {
      const body: SaveDraft = {
        definition: layout.definition,
        columns: [...layout.columns],
        revision: revision.current,
      };
      try {
        const saved = await insist(() => request<DraftSaved>('PUT', paths.draft(id), body), {
          onNoAnswer: (why) => setKeeping({ is: 'waiting', why }),
        });
        revision.current = saved.revision;
        kept.current = layout;
      } catch (error) {
        const isContested = error instanceof ApiRefusal && error.refusal.statusCode === 409;
        contested.current = isContested;
        setKeeping(isContested ? { is: 'contested' } : { is: 'refused', message: sayError(error) });
        throw error;
      }
    },
    [id],
  );
  const keepNow = useCallback((): Promise<number> => {
    running.current ??= (async (): Promise<number> => {
      // What was changed while a layout was under way goes next: taken back, it may be what was
      // kept before, and yet is not what is kept now.
      while (latest.current !== kept.current) {
        setKeeping({ is: 'keeping' });
        await send(latest.current);
        if (latest.current === kept.current) setKeeping({ is: 'kept' });
      }
      return revision.current;
    })().finally(() => {
      running.current = null;
    });
    return running.current;
  }, [send]);

  useEffect(() => {
    if (steps.now === kept.current) return;
    const rest = setTimeout(() => void keepNow().catch(() => undefined), REST_MS);
    return () => clearTimeout(rest);
  }, [steps.now, keepNow]);

  // Whoever leaves right after a change leaves nothing behind.
  useEffect(
    () => () => {
      if (!contested.current) void keepNow().catch(() => undefined);
    },
    [keepNow],
  );
  useEffect(() => {
    const ask = (event: BeforeUnloadEvent): void => {
      if (latest.current === kept.current) return;
      event.preventDefault();
      void keepNow().catch(() => undefined);
    };
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [keepNow]);

  const edit = useCallback(
    (change: (layout: Layout) => Layout, sitting?: string) =>
      setSteps((held) => {
        const { past, now } = held;
        const changed = change(now);
        if (changed === now) return held;
        const goesOn = sitting !== undefined && sitting === held.sitting;
        const before = goesOn ? past : [...past.slice(-MOST_UNDONE), now];
        return { past: before, now: changed, next: [], sitting };
      }),
    [],
  );

  const columns = useMemo(
    () =>
      plannedColumns(
        draft.stored,
        steps.now.columns,
        steps.now.definition.blocks.flatMap(columnIdsOf),
      ),
    [draft.stored, steps.now],
  );
  const { names, sheets } = draft;
  const ground = useMemo(
    () => ({
      headings: new Set(columns.map(({ heading }) => heading.trim())),
      names: new Set(names),
      sheets: new Set(sheets),
      locale: localeFacts(draft.form.locale),
    }),
    [columns, names, sheets, draft.form.locale],
  );
  const inSheet = useMemo(() => new Set(draft.stored.map((column) => column.id)), [draft.stored]);

  const undo = useCallback(
    () =>
      setSteps(({ past, now, next }) => {
        const before = past.at(-1);
        return before
          ? { past: past.slice(0, -1), now: before, next: [now, ...next] }
          : { past, now, next };
      }),
    [],
  );
  const redo = useCallback(
    () =>
      setSteps(({ past, now, next }) => {
        const [after, ...rest] = next;
        return after ? { past: [...past, now], now: after, next: rest } : { past, now, next };
      }),
    [],
  );
  const takeTheirs = useSteady(() => void readAnew());
  const readTheirs = useCallback(() => get<DraftView>(paths.draft(id)), [id]);
  const keepMine = useSteady((theirs: DraftView) => {
    revision.current = theirs.revision;
    contested.current = false;
    void keepNow().catch(() => undefined);
  });
  const mayUndo = steps.past.length > 0;
  const mayRedo = steps.next.length > 0;

  return useMemo(
    () => ({
      layout: steps.now,
      columns,
      inSheet,
      ground,
      edit,
      undo: mayUndo ? undo : null,
      redo: mayRedo ? redo : null,
      keeping,
      keepNow,
      readTheirs,
      takeTheirs,
      keepMine,
    }),
    [
      steps.now,
      columns,
      inSheet,
      ground,
      edit,
      mayUndo,
      undo,
      mayRedo,
      redo,
      keeping,
      keepNow,
      readTheirs,
      takeTheirs,
      keepMine,
    ],
  );
}
