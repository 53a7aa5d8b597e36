import { mayAs, type Role } from '@varn/contract/roles';

/** Where the places of the application stand in the browser's address. */
export const addresses = {
  workbooks: '/',
  signIn: '/sign-in',
  start: '/start',
  settings: (workbookId: string) => `/workbooks/${workbookId}/settings`,
  contents: (workbookId: string) => `/workbooks/${workbookId}`,
  addSheet: (workbookId: string) => `/workbooks/${workbookId}/add-sheet`,
  sheet: (workbookId: string, sheetId: string) => `/workbooks/${workbookId}/sheets/${sheetId}`,
  desk: (workbookId: string, formId: string) => `/workbooks/${workbookId}/forms/${formId}`,
  compose: (workbookId: string, formId: string) =>
    `/workbooks/${workbookId}/forms/${formId}/compose`,
  /** @param from the sheet it is to write into, and the form it is to be like */
  layOut: (workbookId: string, from: { sheet?: string; like?: string } = {}) => {
    const query = new URLSearchParams(from).toString();
    return `/workbooks/${workbookId}/lay-out${query === '' ? '' : `?${query}`}`;
  },
  /** A record opened at the desk of a form. */
  record: (workbookId: string, formId: string, recordId: string) =>
    `/workbooks/${workbookId}/forms/${formId}?record=${encodeURIComponent(recordId)}`,
  lists: (workbookId: string) => `/workbooks/${workbookId}/lists`,
  list: (workbookId: string, sheetId: string, columnId: string) =>
    `/workbooks/${workbookId}/lists/${sheetId}/${columnId}`,
  /** What a column holds, value by value. */
  values: (workbookId: string, sheetId: string, columnId: string) =>
    `/workbooks/${workbookId}/values/${sheetId}/${columnId}`,
  outbox: (workbookId: string) => `/workbooks/${workbookId}/outbox`,
  history: (workbookId: string) => `/workbooks/${workbookId}/history`,
  bin: (workbookId: string) => `/workbooks/${workbookId}/bin`,
  bringIn: (workbookId?: string) =>
    workbookId ? `/workbooks/${workbookId}/bring-in` : '/bring-in',
} as const;

const WORKBOOK_PLACES = [
  { label: 'Lists', to: addresses.lists, needs: 'clerk' },
  { label: 'Outbox', to: addresses.outbox, needs: 'reader' },
  { label: 'History', to: addresses.history, needs: 'reader' },
  { label: 'Bin', to: addresses.bin, needs: 'clerk' },
  { label: 'Settings', to: addresses.settings, needs: 'reader' },
] as const satisfies readonly { label: string; to: (workbookId: string) => string; needs: Role }[];

/** The places of a workbook beside its sheets and forms that are open to a role, in their order. */
export const workbookPlaces = (role: Role) =>
  WORKBOOK_PLACES.filter(({ needs }) => mayAs(role, needs));

export type WorkbookPlace = (typeof WORKBOOK_PLACES)[number]['label'];
