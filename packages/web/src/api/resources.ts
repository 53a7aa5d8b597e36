import type {
  DraftView,
  FormView,
  OutboxView,
  SessionView,
  SheetView,
  WorkbookEntry,
  WorkbookView,
} from '@varn/contract';
import { paths } from '@varn/contract/paths';
import useSWR, { type SWRResponse } from 'swr';

/** What the server holds, read once and kept true by events (`events.ts`), never by asking again. */
const useResource = <T>(path: string | null): SWRResponse<T, unknown> => useSWR<T, unknown>(path);

export const useSession = () => useResource<SessionView>(paths.session);
/** The list is of no one workbook, so no events keep it: it is read anew at each visit. */
export const useWorkbooks = (): SWRResponse<WorkbookEntry[], unknown> =>
  useSWR<WorkbookEntry[], unknown>(paths.workbooks, { revalidateIfStale: true });
export const useWorkbook = (id: string | undefined) =>
  useResource<WorkbookView>(id === undefined ? null : paths.workbook(id));
export const useSheet = (id: string | undefined) =>
  useResource<SheetView>(id === undefined ? null : paths.sheet(id));
export const useForm = (id: string | undefined) =>
  useResource<FormView>(id === undefined ? null : paths.form(id));
/** Notices that would be mailed. What breaks is told of; what was read elsewhere is read at a visit. */
export const useOutbox = (workbookId: string) => useResource<OutboxView>(paths.outbox(workbookId));
/** A form as it is laid out. Whoever lays it out holds what they change; it is read when asked. */
export const useDraftView = (formId: string): SWRResponse<DraftView, unknown> =>
  useSWR<DraftView, unknown>(paths.draft(formId), {
    revalidateIfStale: true,
    // Who comes back at once is not given what was read before they changed it.
    dedupingInterval: 0,
  });
