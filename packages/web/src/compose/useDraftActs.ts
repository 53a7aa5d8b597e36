import type { DraftView, FormEntry, Written } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { useSWRConfig } from 'swr';
import { newId } from '../api/newId';
import { addresses } from '../addresses';
import { request, sayError } from '../api/client';
import type { Composing } from './useCompose';

/** How a draft is read again. */
export interface DraftReading {
  readonly readAnew: () => Promise<unknown>;
  /** Takes the draft as the server has it, whatever stands here. */
  readonly startAnew: () => Promise<void>;
}

/** What is done with a form as a whole, and what came in the way of it last. */
export function useDraftActs(
  draft: DraftView,
  composing: Composing,
  { readAnew, startAnew }: DraftReading,
): {
  failure: string;
  putToUse: () => void;
  rename: (name: string) => void;
  bringBack: (version: number) => void;
  /** Lets go of what is not in use. */
  dropDraft: () => void;
  removeTrials: () => void;
  /** Sends the form to the bin. */
  remove: () => void;
} {
  const { id, sheet, revision: formRevision } = draft.form;
  const { mutate } = useSWRConfig();
  const navigate = useNavigate();
  const [failure, setFailure] = useState('');
  const writeId = useRef(newId());
  const readWorkbook = (): Promise<unknown> => mutate(paths.workbook(sheet.workbookId));

  const attempt = (work: () => Promise<unknown>): void =>
    void work().then(
      () => setFailure(''),
      (error: unknown) => setFailure(sayError(error)),
    );
  /** After all that was laid out is kept. */
  const withRevision = (work: (revision: number) => Promise<unknown>): void =>
    attempt(async () => {
      await work(await composing.keepNow());
      await startAnew();
    });

  return {
    failure,
    putToUse: () =>
      attempt(async () => {
        const revision = await composing.keepNow();
        const body = { writeId: writeId.current, revision };
        await request<FormEntry>('POST', paths.use(id), body);
        writeId.current = newId();
        await Promise.all([mutate(paths.form(id)), readWorkbook()]);
        await startAnew();
        await navigate(addresses.desk(sheet.workbookId, id));
      }),
    rename: (name) =>
      attempt(async () => {
        await request('PATCH', paths.form(id), { name, revision: formRevision });
        await readAnew();
        await readWorkbook();
      }),
    bringBack: (version) =>
      withRevision((revision) => request('POST', paths.bringBack(id, version), { revision })),
    dropDraft: () =>
      withRevision((revision) => request('DELETE', `${paths.draft(id)}?revision=${revision}`)),
    removeTrials: () =>
      attempt(async () => {
        const body = { writeId: newId() };
        await request<Written>('POST', paths.removeTrials(sheet.id), body);
        await readAnew();
      }),
    remove: () =>
      attempt(async () => {
        await request<FormEntry>('DELETE', `${paths.form(id)}?revision=${formRevision}`);
        await readWorkbook();
        await navigate(addresses.contents(sheet.workbookId));
      }),
  };
}
