import type { BinItem, BinView } from '@varn/contract';
import { nameOfRecord, showValue, type Cells } from '@varn/core';
import { Injectable } from '@nestjs/common';
import { Catalog, type SheetFacts } from '../store/catalog';
import { Form } from '../store/entities';
import { Store } from '../store/store';

/** Records told of at once, over all sheets; those of long ago are behind these. */
const MOST_RECORDS = 200;

interface BinnedRow {
  id: string;
  revision: number;
  cells: string;
  at: number;
  by: string | null;
}

/** Tells what waits in a workbook's bin. */
@Injectable()
export class BinReader {
  constructor(
    private readonly catalog: Catalog,
    private readonly store: Store,
  ) {}

  async show(workbookId: string): Promise<BinView> {
    const sheets = this.catalog.allSheetsOf(workbookId);
    const standing = sheets.filter(({ removed }) => !removed);
    const records = await Promise.all(standing.map((sheet) => this.recordsOf(sheet)));
    const counts = await Promise.all(standing.map(({ id }) => this.countOf(id)));
    const newest = records
      .flat()
      .sort((a, b) => (b.at ?? 0) - (a.at ?? 0))
      .slice(0, MOST_RECORDS);
    return {
      items: [
        ...sheets
          .filter(({ removed }) => removed)
          .map(({ id, name, revision }): BinItem => {
            return { is: 'sheet', id, sheetId: id, sheet: name, says: name, revision };
          }),
        ...(await this.formsOf(standing)),
        ...standing.flatMap(columnsOf),
        ...newest,
      ],
      records: counts.reduce((sum, count) => sum + count, 0),
    };
  }

  private async formsOf(sheets: readonly SheetFacts[]): Promise<BinItem[]> {
    const ids = sheets.map(({ id }) => id);
    const forms = await this.store
      .em()
      .find(Form, { sheet: { $in: ids }, removedAt: { $ne: null } });
    return forms.map(({ id, name, sheet, removedAt }) => ({
      is: 'form' as const,
      id,
      sheetId: sheet.id,
      sheet: sheets.find((each) => each.id === sheet.id)?.name ?? '',
      says: name,
      ...(removedAt !== null && { at: removedAt }),
    }));
  }

  private recordsOf(sheet: SheetFacts): Promise<BinItem[]> {
    const sql = `SELECT record.id, record.revision, record.cells, removed_at AS at,
        (SELECT account.name FROM change JOIN account ON account.id = change.account_id
          WHERE change.record_id = record.id ORDER BY change.id DESC LIMIT 1) AS by
      FROM record WHERE sheet_id = ? AND removed_at IS NOT NULL
      ORDER BY removed_at DESC LIMIT ${MOST_RECORDS}`;
    return this.store.reading((database) =>
      (this.store.statement(database, sql).all(sheet.id) as BinnedRow[]).map((row) => {
        const cells = JSON.parse(row.cells) as Cells;
        return {
          is: 'record' as const,
          id: row.id,
          sheetId: sheet.id,
          sheet: sheet.name,
          says: nameOfRecord(cells, sheet.columns, sheet.workbook.locale),
          revision: row.revision,
          at: row.at,
          ...(row.by !== null && { by: row.by }),
          cells: shownCells(cells, sheet),
        };
      }),
    );
  }

  private countOf(sheetId: string): Promise<number> {
    const sql = 'SELECT count(*) AS n FROM record WHERE sheet_id = ? AND removed_at IS NOT NULL';
    return this.store.reading((database) => {
      return (this.store.statement(database, sql).get(sheetId) as { n: number }).n;
    });
  }
}

const columnsOf = ({ id, name, lostColumns }: SheetFacts): BinItem[] =>
  lostColumns.map(({ column }) => ({
    is: 'column',
    id: column.id,
    sheetId: id,
    sheet: name,
    says: column.heading,
  }));

function shownCells(
  cells: Cells,
  { columns, workbook }: SheetFacts,
): { heading: string; shown: string }[] {
  return columns.flatMap((column) => {
    const shown = showValue(cells[column.id] ?? null, column, workbook.locale);
    return shown === '' ? [] : [{ heading: column.heading, shown: shown.slice(0, 200) }];
  });
}
