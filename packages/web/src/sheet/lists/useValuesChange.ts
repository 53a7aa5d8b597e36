import type { ManyChanged, ValueChange, ValuesCount, Written } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { sayCount, sayCountOf } from '@varn/core';
import { useState } from 'react';
import { useSWRConfig } from 'swr';
import { request, requestText, sayError } from '../../api/client';
import { readAnew } from '../../api/events';
import { newId } from '../../api/newId';
import { sayNotes } from '../../ui/sayNotes';

/** Values that are about to become others, and how many records hold them. */
export interface AskedChange {
  readonly columnId: string;
  readonly changes: readonly ValueChange[];
  readonly takesAsked: boolean;
  /** How many hold them, and what would become of those. */
  readonly preview: ValuesCount;
  readonly writeId: string;
}

/** Changes values wherever they are stored: counted first, one write, taken back by one. */
export function useValuesChange(workbookId: string, sheetId: string) {
  const { mutate } = useSWRConfig();
  const [asked, setAsked] = useState<AskedChange | null>(null);
  const [done, setDone] = useState<{ writeId: string | null; says: string } | null>(null);
  const [failure, setFailure] = useState('');
  const [running, setRunning] = useState<string | null>(null);
  const attempt = async (work: () => Promise<void>): Promise<void> => {
    try {
      await work();
      setFailure('');
    } catch (error) {
      setFailure(sayError(error));
      setAsked(null);
    }
  };
  /** Sends a write of many records, which tells how far it is meanwhile. */
  const send = async <T>(path: string, body: { readonly writeId: string }): Promise<T> => {
    setRunning(body.writeId);
    try {
      return await request<T>('POST', path, body);
    } finally {
      setRunning(null);
    }
  };
  const renew = (): void =>
    readAnew(mutate, `/api/sheets/${sheetId}/columns/`, paths.lists(workbookId));
  const ask = (
    columnId: string,
    changes: readonly ValueChange[],
    takesAsked = false,
  ): Promise<void> =>
    attempt(async () => {
      const path = paths.countValues(sheetId, columnId);
      const preview = await request<ValuesCount>('POST', path, { changes, takesAsked });
      setDone(null);
      setAsked({ columnId, changes, takesAsked, preview, writeId: newId() });
    });
  return {
    asked,
    done,
    failure,
    /** The write that is under way. */
    running,
    workbookId,
    ask,
    takeAsked: (takesAsked: boolean): Promise<void> =>
      asked ? ask(asked.columnId, asked.changes, takesAsked) : Promise.resolve(),
    left: (): Promise<string> => {
      if (!asked) return Promise.resolve('');
      const { columnId, changes, takesAsked } = asked;
      return requestText('POST', paths.leftValues(sheetId, columnId), { changes, takesAsked });
    },
    leave: (): void => setAsked(null),
    carryOut: (): Promise<void> =>
      attempt(async () => {
        if (!asked || running !== null) return;
        const { columnId, changes, takesAsked, writeId, preview } = asked;
        const path = paths.changeValues(sheetId, columnId);
        const body = { changes, takesAsked, writeId, count: preview.count };
        const { changed, left } = await send<ManyChanged>(path, body);
        const stayed = left > 0 ? ` ${sayCount(left)} left as they were.` : '';
        setAsked(null);
        setDone({ writeId, says: `${sayCountOf(changed, 'record')} changed.${stayed}` });
        renew();
      }),
    takeBack: (): Promise<void> =>
      attempt(async () => {
        if (!done?.writeId || running !== null) return;
        const body = { writeId: newId(), undoes: done.writeId };
        const told = sayNotes(await send<Written>(paths.undo(workbookId), body));
        setDone(told === '' ? null : { writeId: null, says: `Undone.${told}` });
        renew();
      }),
  };
}

export type ValuesChanging = ReturnType<typeof useValuesChange>;
