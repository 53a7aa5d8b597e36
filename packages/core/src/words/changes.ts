import type { ChangeKind } from '../records';
import { sayCountOf } from '../values';

const SAYS: Readonly<Record<ChangeKind, string>> = {
  recordAdded: 'record added',
  recordChanged: 'record changed',
  recordRemoved: 'record removed',
  recordPutBack: 'record put back',
  recordMoved: 'record moved',
  rowAdded: 'row put in',
  rowChanged: 'row changed',
  rowRemoved: 'row removed',
  rowPutBack: 'row put back',
  rowMoved: 'row moved',
  sheetChanged: 'change of columns or look',
  namesChanged: 'change of names',
  workbookAdded: 'workbook added',
  sheetAdded: 'sheet added',
  formAdded: 'form added',
  formChanged: 'form changed',
  formRemoved: 'form removed',
  formPutBack: 'form put back',
  binEmptied: 'bin emptied',
};

/** What a write did, by the kind of its first line and how many lines it has. */
export function sayWrite(kind: ChangeKind, lines: number): string {
  return lines === 1 ? SAYS[kind] : sayCountOf(lines, 'change');
}
