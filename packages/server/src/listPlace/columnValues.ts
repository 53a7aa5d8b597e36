import { heldValuesIn, type Column, type HeldValue, type SheetModel } from '@varn/core';
import { Injectable } from '@nestjs/common';
import { Catalog } from '../store/catalog';
import { SheetCache } from '../store/sheetCache';
import { inTurns } from '../turns/turns';

/** Columns whose values are kept counted, and the most different values of one. */
const MOST_KEPT = 1000;
const MOST_VALUES = 5000;

interface Counted {
  readonly model: SheetModel;
  readonly version: number;
  readonly column: Column;
  readonly values: readonly HeldValue[];
}

/** The values of columns with their counts, counted anew only where records changed since. */
@Injectable()
export class ColumnValues {
  private readonly kept = new Map<string, Counted>();

  constructor(
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
  ) {}

  /** The most frequent first. @param column of that sheet */
  async of(sheetId: string, column: Column): Promise<readonly HeldValue[]> {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) return [];
    const model = await this.cache.model(sheetId);
    const held = this.kept.get(column.id);
    const { version } = model;
    if (held?.model === model && held.version === version && held.column === column) {
      return held.values;
    }
    const values = await inTurns(heldValuesIn(model, column, sheet.workbook.locale));
    // What changed while they were counted may be missing among them.
    if (model.version === version && values.length <= MOST_VALUES) {
      if (this.kept.size >= MOST_KEPT) this.kept.clear();
      this.kept.set(column.id, { model, version, column, values });
    }
    return values;
  }
}
