import type { RecordView, RowsView, SheetView } from '@varn/contract';
import { toWire, type CellValue, type SheetModel, type StoredRecord } from '@varn/core';
import { csvHeading, csvRows } from '@varn/files';
import { Injectable } from '@nestjs/common';
import { setImmediate as nextTurn } from 'node:timers/promises';
import { Refused } from '../http/refused';
import { Catalog, type SheetFacts } from '../store/catalog';
import { SheetCache } from './sheetCache';

/** Records written to a file at once; between them other requests are answered. */
const CSV_BATCH = 1000;

@Injectable()
export class SheetReader {
  constructor(
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
  ) {}

  async show(sheetId: string): Promise<SheetView> {
    const sheet = this.facts(sheetId);
    const { id, workbook, name, revision, headingRow, topMatter, columns } = sheet;
    return {
      id,
      workbookId: workbook.id,
      name,
      revision,
      headingRow,
      topMatter,
      columns: [...columns],
      count: await this.cache.count(sheetId),
      forms: this.catalog.formsOf(sheetId).map((form) => ({ id: form.id, name: form.name })),
    };
  }

  async rows(sheetId: string, from: number, count: number): Promise<RowsView> {
    const sheet = this.facts(sheetId);
    return rowsOf(sheet, await this.cache.model(sheetId), from, count);
  }

  /** A sheet as CSV, in pieces: its heading, then its records as they stand. */
  async *csv(sheetId: string, guarded: boolean): AsyncGenerator<string> {
    const { columns } = this.facts(sheetId);
    const model = await this.cache.model(sheetId);
    yield csvHeading(columns, guarded);
    let after = -Infinity;
    for (;;) {
      const records: StoredRecord[] = [];
      const start = model.positionAfter(after);
      const end = Math.min(start + CSV_BATCH, model.count);
      for (let position = start; position < end; position += 1) records.push(model.at(position));
      const last = records.at(-1);
      if (!last) return;
      after = last.orderKey;
      yield csvRows(
        columns,
        records.map(({ cells }) => columns.map(({ id }) => cells[id] ?? null)),
        guarded,
      );
      await nextTurn();
    }
  }

  facts(sheetId: string): SheetFacts {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    return sheet;
  }
}

/** A window of a sheet's records, cut to those there are. */
export function rowsOf(
  sheet: SheetFacts,
  model: SheetModel,
  from: number,
  count: number,
): RowsView {
  const start = Math.min(Math.max(0, from), model.count);
  const end = Math.min(start + count, model.count);
  const records: RecordView[] = [];
  for (let position = start; position < end; position += 1) {
    const { id, revision } = model.at(position);
    const cells = sheet.columns.map((column): CellValue =>
      toWire(model.cellAt(position, column.id), column),
    );
    records.push({ id, revision, cells });
  }
  return { from: start, count: model.count, records };
}
