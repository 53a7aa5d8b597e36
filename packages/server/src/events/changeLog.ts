import type { ChangeEvent } from '@varn/contract';
import { Injectable } from '@nestjs/common';
import { Catalog } from '../store/catalog';
import { Store } from '../store/store';
import { RecordStore } from '../write/recordStore';
import { eventOf } from '../write/writePath';

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

  /** How many changes came after a sequence number, counted up to `most`. */
  countAfter(workbookId: string, seq: number, most: number): Promise<number> {
    const sql = `SELECT count(*) AS n FROM
      (SELECT 1 FROM change WHERE workbook_id = ? AND id > ? LIMIT ?)`;
    return this.store.withConnection((database) => {
      const row = this.store.statement(database, sql).get(workbookId, seq, most) as { n: number };
      return row.n;
    });
  }

  /** The changes after a sequence number, oldest first, `most` at most. */
  after(workbookId: string, seq: number, most: number): Promise<ChangeEvent[]> {
    const sql = `SELECT change.id, account.name
      FROM change JOIN account ON account.id = change.account_id
      WHERE change.workbook_id = ? AND change.id > ? ORDER BY change.id LIMIT ?`;
    return this.store.withConnection((database) =>
      (this.store.statement(database, sql).all(workbookId, seq, most) as LoggedRow[]).flatMap(
        ({ id, name }) => {
          const change = this.records.changeAt(database, id);
          const sheet = change && this.catalog.sheet(change.sheetId);
          return change && sheet ? [eventOf(change, name, sheet)] : [];
        },
      ),
    );
  }
}

interface LoggedRow {
  id: number;
  name: string;
}
