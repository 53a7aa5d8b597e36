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
