import type { Column, ReadingContext, SheetModel, StoredColumn } from '@varn/core';
import type { SheetFacts } from '../store/catalog';

/** A column with the sheet and the records it stands in. */
export interface Looked {
  readonly sheet: SheetFacts;
  readonly column: StoredColumn;
  readonly columns: ReadonlyMap<string, Column>;
  readonly model: SheetModel;
  readonly context: ReadingContext;
}
