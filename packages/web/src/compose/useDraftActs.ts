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
  /** Keeps what is laid out here as a form of its own, and goes on with that. */
  keepAsCopy: () => void;
  /** Says what came in the way of something else. */
  fail: (error: unknown) => void;
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
    fail: (error) => setFailure(sayError(error)),
    keepAsCopy: () =>
      attempt(async () => {
        const { layout } = composing;
        const { workbookId } = sheet;
        const body = {
          writeId: writeId.current,
          name: `${draft.form.name}, copy`,
          sheetId: sheet.id,
        };
        const copy = await request<FormEntry>('POST', paths.forms(workbookId), body);
        writeId.current = newId();
        const { revision } = await request<DraftView>('GET', paths.draft(copy.id));
        const { definition, columns } = layout;
        await request('PUT', paths.draft(copy.id), { definition, columns, revision });
        await readWorkbook();
        await navigate(addresses.compose(workbookId, copy.id));
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
