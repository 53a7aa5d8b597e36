/** What can happen to a record, as the log tells it. */
export const RECORD_CHANGES = [
  'recordAdded',
  'recordChanged',
  'recordRemoved',
  'recordPutBack',
  'recordMoved',
] as const;
export type RecordChangeKind = (typeof RECORD_CHANGES)[number];

/** What can happen to a row outside of the records. */
export type RowChangeKind = 'rowAdded' | 'rowChanged' | 'rowRemoved' | 'rowPutBack' | 'rowMoved';

/** What can happen to a workbook and what is in it. */
export type StructureChangeKind =
  | 'workbookAdded'
  | 'workbookChanged'
  | 'sheetAdded'
  | 'sheetChanged'
  | 'namesChanged'
  | 'formAdded'
  | 'formChanged'
  | 'formRemoved'
  | 'formPutBack'
  | 'binEmptied';

export type ChangeKind = RecordChangeKind | RowChangeKind | StructureChangeKind;

export function isRecordChange(kind: ChangeKind): kind is RecordChangeKind {
  return (RECORD_CHANGES as readonly ChangeKind[]).includes(kind);
}
