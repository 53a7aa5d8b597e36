/** Where the places of the application stand in the browser's address. */
export const addresses = {
  workbooks: '/',
  signIn: '/sign-in',
  contents: (workbookId: string) => `/workbooks/${workbookId}`,
  addSheet: (workbookId: string) => `/workbooks/${workbookId}/add-sheet`,
  sheet: (workbookId: string, sheetId: string) => `/workbooks/${workbookId}/sheets/${sheetId}`,
  desk: (workbookId: string, formId: string) => `/workbooks/${workbookId}/forms/${formId}`,
  bringIn: (workbookId?: string) =>
    workbookId ? `/workbooks/${workbookId}/bring-in` : '/bring-in',
} as const;
