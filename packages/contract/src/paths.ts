/** Where each resource of the API stands. */
export const paths = {
  health: '/api/health',
  openapi: '/api/openapi.json',
  session: '/api/session',
  demoSession: '/api/session/demo',
  workbooks: '/api/workbooks',
  places: '/api/places',
  workbook: (id: string) => `/api/workbooks/${id}`,
  overview: (id: string) => `/api/workbooks/${id}/overview`,
  problems: (id: string) => `/api/workbooks/${id}/problems`,
  events: (id: string) => `/api/workbooks/${id}/events`,
  undo: (workbookId: string) => `/api/workbooks/${workbookId}/undo`,
  underway: (workbookId: string, writeId: string) =>
    `/api/workbooks/${workbookId}/underway/${writeId}`,
  sheet: (id: string) => `/api/sheets/${id}`,
  rows: (sheetId: string, from: number, count: number, view = '') =>
    `/api/sheets/${sheetId}/rows?from=${from}&count=${count}${view && `&view=${encodeURIComponent(view)}`}`,
  freeRows: (sheetId: string, from: number, count: number) =>
    `/api/sheets/${sheetId}/free-rows?from=${from}&count=${count}`,
  cells: (sheetId: string) => `/api/sheets/${sheetId}/cells`,
  insertRows: (sheetId: string) => `/api/sheets/${sheetId}/insert-rows`,
  removeRows: (sheetId: string) => `/api/sheets/${sheetId}/remove-rows`,
  moveRows: (sheetId: string) => `/api/sheets/${sheetId}/move-rows`,
  uses: (sheetId: string, of: { columnId?: string; nameId?: string } = {}) => {
    const query = Object.entries(of).map(([name, id]) => `${name}=${encodeURIComponent(id)}`);
    return `/api/sheets/${sheetId}/uses${query.length > 0 ? `?${query.join('&')}` : ''}`;
  },
  figures: (sheetId: string) => `/api/sheets/${sheetId}/figures`,
  find: (sheetId: string) => `/api/sheets/${sheetId}/find`,
  counts: (sheetId: string) => `/api/sheets/${sheetId}/counts`,
  search: (sheetId: string) => `/api/sheets/${sheetId}/search`,
  known: (sheetId: string) => `/api/sheets/${sheetId}/known`,
  today: (sheetId: string) => `/api/sheets/${sheetId}/today`,
  question: (formId: string, questionId: string) => `/api/forms/${formId}/questions/${questionId}`,
  previewMatches: (sheetId: string) => `/api/sheets/${sheetId}/matches/preview`,
  leftMatches: (sheetId: string) => `/api/sheets/${sheetId}/matches/left`,
  changeMatches: (sheetId: string) => `/api/sheets/${sheetId}/matches/change`,
  previewReplace: (sheetId: string) => `/api/sheets/${sheetId}/replace/preview`,
  leftReplace: (sheetId: string) => `/api/sheets/${sheetId}/replace/left`,
  replaceAll: (sheetId: string) => `/api/sheets/${sheetId}/replace`,
  removeMatches: (sheetId: string) => `/api/sheets/${sheetId}/matches/remove`,
  checkFormula: (sheetId: string) => `/api/sheets/${sheetId}/check-formula`,
  sheets: (workbookId: string) => `/api/workbooks/${workbookId}/sheets`,
  names: (workbookId: string) => `/api/workbooks/${workbookId}/names`,
  sheetNames: (sheetId: string) => `/api/sheets/${sheetId}/names`,
  name: (sheetId: string, nameId: string) => `/api/sheets/${sheetId}/names/${nameId}`,
  csv: (sheetId: string, guard: 'on' | 'off', view = '', ways: Record<string, string> = {}) => {
    const query = Object.entries({ guard, ...(view && { view }), ...ways });
    const said = query.map(([name, value]) => `${name}=${encodeURIComponent(value)}`);
    return `/api/sheets/${sheetId}/csv?${said.join('&')}`;
  },
  columns: (sheetId: string) => `/api/sheets/${sheetId}/columns`,
  column: (sheetId: string, columnId: string) => `/api/sheets/${sheetId}/columns/${columnId}`,
  conversion: (sheetId: string, columnId: string) =>
    `/api/sheets/${sheetId}/columns/${columnId}/conversion`,
  columnValues: (sheetId: string, columnId: string) =>
    `/api/sheets/${sheetId}/columns/${columnId}/values`,
  variants: (sheetId: string, columnId: string) =>
    `/api/sheets/${sheetId}/columns/${columnId}/variants`,
  renamedItem: (sheetId: string) => `/api/sheets/${sheetId}/renamed-item`,
  brokenRules: (sheetId: string, columnId: string) =>
    `/api/sheets/${sheetId}/columns/${columnId}/rules/broken`,
  suggestedRules: (sheetId: string, columnId: string) =>
    `/api/sheets/${sheetId}/columns/${columnId}/rules/suggested`,
  secretWords: (workbookId: string) => `/api/workbooks/${workbookId}/secret-words`,
  countValues: (sheetId: string, columnId: string) =>
    `/api/sheets/${sheetId}/columns/${columnId}/values/count`,
  leftValues: (sheetId: string, columnId: string) =>
    `/api/sheets/${sheetId}/columns/${columnId}/values/left`,
  changeValues: (sheetId: string, columnId: string) =>
    `/api/sheets/${sheetId}/columns/${columnId}/values/change`,
  sheetLists: (sheetId: string) => `/api/sheets/${sheetId}/lists`,
  tryList: (sheetId: string) => `/api/sheets/${sheetId}/lists/try`,
  lists: (workbookId: string) => `/api/workbooks/${workbookId}/lists`,
  list: (sheetId: string, columnId: string) => `/api/sheets/${sheetId}/columns/${columnId}/list`,
  outbox: (workbookId: string) => `/api/workbooks/${workbookId}/outbox`,
  readNotices: (workbookId: string) => `/api/workbooks/${workbookId}/outbox/read`,
  record: (sheetId: string, recordId: string) => `/api/sheets/${sheetId}/records/${recordId}`,
  recordHistory: (sheetId: string, recordId: string) =>
    `/api/sheets/${sheetId}/records/${recordId}/history`,
  bringBackState: (sheetId: string, recordId: string) =>
    `/api/sheets/${sheetId}/records/${recordId}/bring-back`,
  removeRecord: (sheetId: string, recordId: string) =>
    `/api/sheets/${sheetId}/records/${recordId}/remove`,
  putBackRecord: (sheetId: string, recordId: string) =>
    `/api/sheets/${sheetId}/records/${recordId}/put-back`,
  putBackSheet: (workbookId: string, sheetId: string) =>
    `/api/workbooks/${workbookId}/sheets/${sheetId}/put-back`,
  putBackColumn: (sheetId: string, columnId: string) =>
    `/api/sheets/${sheetId}/columns/${columnId}/put-back`,
  history: (workbookId: string) => `/api/workbooks/${workbookId}/history`,
  bin: (workbookId: string) => `/api/workbooks/${workbookId}/bin`,
  emptyBin: (workbookId: string) => `/api/workbooks/${workbookId}/bin/empty`,
  sheetForms: (sheetId: string) => `/api/sheets/${sheetId}/forms`,
  form: (id: string) => `/api/forms/${id}`,
  forms: (workbookId: string) => `/api/workbooks/${workbookId}/forms`,
  putBackForm: (workbookId: string, formId: string) =>
    `/api/workbooks/${workbookId}/forms/${formId}/put-back`,
  draft: (formId: string) => `/api/forms/${formId}/draft`,
  use: (formId: string) => `/api/forms/${formId}/use`,
  bringBack: (formId: string, version: number | string) =>
    `/api/forms/${formId}/versions/${version}/bring-back`,
  trials: (formId: string) => `/api/forms/${formId}/trials`,
  removeTrials: (sheetId: string) => `/api/sheets/${sheetId}/remove-trials`,
  formRecord: (formId: string, recordId: string) => `/api/forms/${formId}/records/${recordId}`,
  files: (workbookId: string, name: string) =>
    `/api/workbooks/${workbookId}/files?name=${encodeURIComponent(name)}`,
  file: (workbookId: string, fileId: string) => `/api/workbooks/${workbookId}/files/${fileId}`,
  submits: (formId: string) => `/api/forms/${formId}/submits`,
  checks: (formId: string) => `/api/forms/${formId}/checks`,
  uploads: (name: string) => `/api/uploads?name=${encodeURIComponent(name)}`,
  preview: (uploadId: string) => `/api/uploads/${uploadId}/preview`,
  bringIn: (uploadId: string) => `/api/uploads/${uploadId}/bring-in`,
  fileRows: (id: string) => `/api/uploads/${id}/rows`,
  checkRows: (uploadId: string) => `/api/uploads/${uploadId}/rows/check`,
  addRows: (uploadId: string) => `/api/uploads/${uploadId}/rows/add`,
  heldRows: (uploadId: string) => `/api/uploads/${uploadId}/rows/held`,
  upload: (uploadId: string) => `/api/uploads/${uploadId}`,
} as const;
