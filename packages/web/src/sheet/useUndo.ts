import type { SheetView, UndoView, Written } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { mayAs, type Role } from '@varn/contract/roles';
import {
  fromWire,
  isErrorValue,
  sayErrorValue,
  showValue,
  type CellValue,
  type Column,
  type FreeCell,
  type LocaleFacts,
} from '@varn/core';
import { useState } from 'react';
import useSWR, { useSWRConfig } from 'swr';
import { newId } from '../api/newId';
import { ApiRefusal, request, sayError } from '../api/client';
import { sayNotes } from '../ui/sayNotes';

/** A write of one's own that someone has written over since: both, to be decided upon. */
export interface Contested {
  /** Whether it was to be done again, rather than taken back. */
  readonly again: boolean;
  readonly says: string;
  readonly message: string;
  readonly both: { yours: object | null; now: object | null } | undefined;
}

export interface UndoDesk {
  readonly state: UndoView;
  readonly contested: Contested | null;
  /** What is being taken back, which tells how far it is where it takes long. */
  readonly running: string | null;
  /** Takes back one's last write, or with `again` does the last one taken back once more. */
  readonly takeBack: (again: boolean, anyway?: boolean) => Promise<string>;
  readonly leave: () => void;
}

const NOTHING: UndoView = { undo: null, redo: null };

/** One's own writes in a workbook, to be taken back one after another; also after a reload. */
export function useUndo(workbookId: string, role: Role | undefined): UndoDesk {
  const { mutate } = useSWRConfig();
  const mayWrite = role !== undefined && mayAs(role, 'clerk');
  const { data: state = NOTHING } = useSWR<UndoView, unknown>(
    mayWrite ? paths.undo(workbookId) : null,
    { revalidateOnMount: true },
  );
  const [contested, setContested] = useState<Contested | null>(null);
  const [running, setRunning] = useState<string | null>(null);

  const takeBack = async (again: boolean, anyway = false): Promise<string> => {
    // Others may have been written by oneself a moment ago, in this window or another.
    const now = await mutate<UndoView>(
      paths.undo(workbookId),
      request('GET', paths.undo(workbookId)),
    );
    const entry = again ? now?.redo : now?.undo;
    if (!entry) return again ? 'There is nothing to redo.' : 'You have nothing to undo.';
    const body = { writeId: newId(), undoes: entry.writeId, ...(anyway && { anyway }) };
    setRunning(body.writeId);
    try {
      const written = await request<Written>('POST', paths.undo(workbookId), body);
      setContested(null);
      await mutate(
        (key) =>
          typeof key === 'string' &&
          (key.startsWith('/api/sheets/') || key.startsWith(paths.workbook(workbookId))),
      );
      return `${again ? 'Redone' : 'Undone'}: ${entry.says}.${sayNotes(written)}`;
    } catch (error) {
      if (error instanceof ApiRefusal && error.refusal.code === 'changedSince') {
        const { message, both } = error.refusal;
        setContested({ again, says: entry.says, message, both });
        return `Not undone: ${message}`;
      }
      return sayError(error);
    } finally {
      setRunning((now) => (now === body.writeId ? null : now));
    }
  };
  return { state, contested, running, takeBack, leave: () => setContested(null) };
}

/** The cells of two versions that differ, by heading, each as its column shows it. */
export function differences(
  { both }: Contested,
  { columns }: Pick<SheetView, 'columns'>,
  locale: LocaleFacts,
): { heading: string; yours: string; now: string }[] {
  const [yours, now] = [both?.yours ?? {}, both?.now ?? {}] as Record<string, unknown>[];
  const ids = new Set([...Object.keys(yours ?? {}), ...Object.keys(now ?? {})]);
  return [...ids].flatMap((id) => {
    if (JSON.stringify(yours?.[id]) === JSON.stringify(now?.[id])) return [];
    const column = columns.find((each) => each.id === id);
    const say = (value: unknown): string => sayCell(value, column, locale);
    return [{ heading: column?.heading ?? 'Cell', yours: say(yours?.[id]), now: say(now?.[id]) }];
  });
}

/** A value of a record on the wire, or a cell outside of the records. */
function sayCell(value: unknown, column: Column | undefined, locale: LocaleFacts): string {
  if (value === undefined || value === null) return 'blank';
  if (typeof value === 'object' && !('error' in value)) {
    const { value: held = null, formula, kind, settings = {} } = value as FreeCell;
    if (formula) return 'a formula';
    const look: Column = { id: '', heading: '', kind: kind ?? 'text', settings };
    return showValue(held, look, locale) || 'blank';
  }
  const wire = value as CellValue;
  if (column) return showValue(fromWire(wire, column), column, locale);
  return isErrorValue(wire) ? sayErrorValue(wire) : String(wire);
}
