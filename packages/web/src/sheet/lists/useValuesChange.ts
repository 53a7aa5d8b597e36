import type { ValueChange, ValuesChanged, ValuesCount } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { sayCountOf } from '@varn/core';
import { useState } from 'react';
import { useSWRConfig } from 'swr';
import { request, sayError } from '../../api/client';
import { readAnew } from '../../api/events';
import { newId } from '../../api/newId';

/** Values that are about to become others, and how many records hold them. */
export interface AskedChange {
  readonly columnId: string;
  readonly changes: readonly ValueChange[];
  readonly count: number;
  readonly writeId: string;
}

/** Changes values wherever they are stored: counted first, one write, taken back by one. */
export function useValuesChange(workbookId: string, sheetId: string) {
  const { mutate } = useSWRConfig();
  const [asked, setAsked] = useState<AskedChange | null>(null);
  const [done, setDone] = useState<{ writeId: string; says: string } | null>(null);
  const [failure, setFailure] = useState('');
  const attempt = async (work: () => Promise<void>): Promise<void> => {
    try {
      await work();
      setFailure('');
    } catch (error) {
      setFailure(sayError(error));
      setAsked(null);
    }
  };
  const renew = (): void =>
    readAnew(mutate, `/api/sheets/${sheetId}/columns/`, paths.lists(workbookId));
  return {
    asked,
    done,
    failure,
    ask: (columnId: string, changes: readonly ValueChange[]): Promise<void> =>
      attempt(async () => {
        const { count } = await request<ValuesCount>('POST', paths.countValues(sheetId, columnId), {
          changes,
        });
        setDone(null);
        setAsked({ columnId, changes, count, writeId: newId() });
      }),
    leave: (): void => setAsked(null),
    carryOut: (): Promise<void> =>
      attempt(async () => {
        if (!asked) return;
        const { columnId, ...body } = asked;
        const path = paths.changeValues(sheetId, columnId);
        const { changed, writeId } = await request<ValuesChanged>('POST', path, body);
        setAsked(null);
        setDone({ writeId, says: `${sayCountOf(changed, 'record')} changed.` });
        renew();
      }),
    takeBack: (): Promise<void> =>
      attempt(async () => {
        if (!done) return;
        await request('POST', paths.undo(workbookId), { writeId: newId(), undoes: done.writeId });
        setDone(null);
        renew();
      }),
  };
}

export type ValuesChanging = ReturnType<typeof useValuesChange>;
