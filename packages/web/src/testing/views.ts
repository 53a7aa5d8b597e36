import type { FormView, SheetView } from '@varn/contract';

/** A sheet as the server tells it, for tests. */
export const sheetView = (more: Partial<SheetView> = {}): SheetView => ({
  id: 's',
  workbookId: 'w',
  name: 'Samples',
  revision: 1,
  headingRow: 4,
  hasRecords: true,
  looseColumns: [],
  look: {},
  lost: [],
  columns: [],
  count: 0,
  forms: [],
  ...more,
});

/** A form as the server tells it, for tests. */
export const formView = (sheet: SheetView, more: Partial<FormView> = {}): FormView => ({
  id: 'f',
  name: 'Log',
  revision: 1,
  version: 1,
  definition: { blocks: [] },
  suggestions: {},
  sheet,
  lengths: {},
  nextTexts: {},
  nextNumbers: {},
  last: { from: 0, count: 0, records: [] },
  now: 0,
  locale: 'en-GB',
  timeZone: 'UTC',
  seq: 0,
  ...more,
});
