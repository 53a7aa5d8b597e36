import type { NamedRecordView } from '@varn/contract';
import { nameOfRecord, rowOfPosition, type SheetModel } from '@varn/core';
import type { SheetFacts } from '../store/catalog';

/** A record that stands in a sheet, by what people call it. */
export function namedRecord(sheet: SheetFacts, model: SheetModel, id: string): NamedRecordView {
  const { cells } = model.get(id);
  return {
    id,
    name: nameOfRecord(cells, sheet.columns, sheet.workbook.locale),
    row: rowOfPosition(sheet, model.positionOf(id)),
  };
}
