import type { ChangeKind } from '../records';
import { sayCountOf } from '../values';

const SAYS: Readonly<Record<ChangeKind, string>> = {
  recordAdded: 'record added',
  recordChanged: 'record changed',
  recordRemoved: 'record deleted',
  recordPutBack: 'record restored',
  recordMoved: 'record moved',
  rowAdded: 'row inserted',
  rowChanged: 'row changed',
  rowRemoved: 'row deleted',
  rowPutBack: 'row restored',
  rowMoved: 'row moved',
  sheetChanged: 'sheet changed',
  namesChanged: 'range names changed',
  workbookAdded: 'workbook added',
  workbookChanged: 'workbook settings changed',
  sheetAdded: 'sheet added',
  formAdded: 'form added',
  formChanged: 'form changed',
  formRemoved: 'form deleted',
  formPutBack: 'form restored',
  binEmptied: 'bin emptied',
};

/**
 * What a write did, by the kind of its first line and how many lines it has.
 *
 * @param name what the one record of it is called, where that is known
 */
export function sayWrite(kind: ChangeKind, lines: number, name = ''): string {
  if (lines !== 1) return sayCountOf(lines, 'change');
  return name === '' ? SAYS[kind] : SAYS[kind].replace(/^record/, name);
}
