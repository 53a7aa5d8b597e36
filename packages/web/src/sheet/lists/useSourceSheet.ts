import type { SheetView } from '@varn/contract';
import { useState } from 'react';
import { useSheet, useWorkbook } from '../../api/resources';
import { sheetOf, isSource } from './sources';

/**
 * The sheet a list takes its choices from: the one before as long as another is on its way, or the
 * source is typed so that it can’t be read. What is said of its rows stays on screen meanwhile.
 *
 * @param sheet the list's own, which is meant where a source names none
 */
export function useSourceSheet(
  source: string | undefined,
  sheet: SheetView,
): SheetView | undefined {
  const { data: workbook } = useWorkbook(sheet.workbookId);
  const name = source !== undefined && isSource(source) ? (sheetOf(source) ?? sheet.name) : null;
  const id = workbook?.sheets.find((each) => each.name === name)?.id;
  const { data: read } = useSheet(id);
  const [last, setLast] = useState<SheetView>();
  if (read && read !== last) setLast(read);
  return source === undefined ? undefined : (read ?? last);
}
