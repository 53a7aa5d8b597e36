import type { ChangeEvent, Landed, RecordChangeKind, StructureChangeKind } from '@varn/contract';
import { Injectable } from '@nestjs/common';
import { Store } from '../store/store';

interface LoggedRow {
  seq: number;
  kind: RecordChangeKind | StructureChangeKind;
  sheet_id: string;
  write_id: string;
  record_id: string | null;
  by: string;
  answer: string | null;
}

/** Reads the log of changes: what was written since someone last looked. */
@Injectable()
export class ChangeLog {
  constructor(private readonly store: Store) {}

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
    const sql = `SELECT change.id AS seq, change.kind, change.sheet_id, change.write_id,
        change.record_id, account.name AS "by", write.answer
      FROM change JOIN account ON account.id = change.account_id
      LEFT JOIN write ON write.id = change.write_id
      WHERE change.workbook_id = ? AND change.id > ? ORDER BY change.id LIMIT ?`;
    return this.store.withConnection((database) =>
      (this.store.statement(database, sql).all(workbookId, seq, most) as LoggedRow[]).map(eventOf),
    );
  }
}

function eventOf(row: LoggedRow): ChangeEvent {
  const event = {
    seq: row.seq,
    kind: row.kind,
    sheetId: row.sheet_id,
    writeId: row.write_id,
    by: row.by,
  };
  return row.record_id !== null && row.answer !== null
    ? { ...event, landed: JSON.parse(row.answer) as Landed }
    : event;
}
