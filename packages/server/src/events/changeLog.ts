import type { ChangeEvent, RecordChangeKind, StructureChangeKind } from '@varn/contract';
import { Injectable } from '@nestjs/common';
import type { Database } from 'better-sqlite3';
import { Catalog } from '../store/catalog';
import { Store } from '../store/store';
import { landedOf } from '../write/landed';
import { RecordStore } from '../write/recordStore';

/** Reads the log of changes: what was written since someone last looked. */
@Injectable()
export class ChangeLog {
  constructor(
    private readonly store: Store,
    private readonly records: RecordStore,
    private readonly catalog: Catalog,
  ) {}

  /** The sequence number of a workbook's last change; 0 before the first. */
  lastSeq(workbookId: string): Promise<number> {
    const sql = 'SELECT max(id) AS seq FROM change WHERE workbook_id = ?';
    return this.store.withConnection((database) => {
      const row = this.store.statement(database, sql).get(workbookId) as { seq: number | null };
      return row.seq ?? 0;
    });
  }

  /** The changes after a sequence number, oldest first, `most` at most. */
  after(workbookId: string, seq: number, most: number): Promise<ChangeEvent[]> {
    const sql = `SELECT change.write_id, change.id, change.kind, change.sheet_id, account.name
      FROM change JOIN account ON account.id = change.account_id
      WHERE change.workbook_id = ? AND change.id > ? ORDER BY change.id LIMIT ?`;
    return this.store.withConnection((database) =>
      (this.store.statement(database, sql).all(workbookId, seq, most) as LoggedRow[]).map((row) =>
        this.eventOf(database, row),
      ),
    );
  }

  private eventOf(database: Database, row: LoggedRow): ChangeEvent {
    const { id: seq, kind, sheet_id: sheetId, write_id: writeId, name: by } = row;
    const event = { seq, kind, sheetId, writeId, by };
    const change = this.records.changeOf(database, writeId);
    const sheet = this.catalog.sheet(sheetId);
    return change && change !== 'structure' && sheet
      ? { ...event, landed: landedOf(change, sheet) }
      : event;
  }
}

interface LoggedRow {
  id: number;
  kind: RecordChangeKind | StructureChangeKind;
  sheet_id: string;
  write_id: string;
  name: string;
}
