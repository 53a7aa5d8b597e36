import type { NamedRecordView, TodayView } from '@varn/contract';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { SheetReader } from '../sheets/sheetReader';
import { midnightIn } from '../store/catalog';
import { SheetCache } from '../store/sheetCache';
import { Store } from '../store/store';
import { namedRecord } from './namedRecord';

/** How many of one's last records are told. */
const LAST = 5;
/** What was entered, not brought in with a file. */
const ENTERED = "change.door NOT IN ('file', 'arrival')";
/** How many are looked at for them: some may be in the bin. */
const LOOKED = 50;

/** Tells what was written into a sheet today. */
@Injectable()
export class TodayReader {
  constructor(
    private readonly reader: SheetReader,
    private readonly cache: SheetCache,
    private readonly store: Store,
  ) {}

  /** How many new records of today stand, of all and entered by one person, and their last ones. */
  async of(sheetId: string, person: Writer): Promise<TodayView> {
    const sheet = this.reader.facts(sheetId);
    const model = await this.cache.model(sheetId);
    const since = midnightIn(sheet.workbook);
    const { counts, ids } = await this.store.reading((database) => {
      const count = this.store.statement(
        database,
        `SELECT count(*) AS everyone, count(CASE WHEN account_id = ? AND ${ENTERED} THEN 1 END) AS mine
          FROM change WHERE sheet_id = ? AND kind = 'recordAdded' AND at >= ?`,
      );
      const gone = this.store.statement(
        database,
        `SELECT count(*) AS everyone, count(CASE WHEN change.account_id = ? AND ${ENTERED} THEN 1 END) AS mine
          FROM record CROSS JOIN change ON change.record_id = record.id
          WHERE record.sheet_id = ? AND record.removed_at >= ?
            AND change.kind = 'recordAdded' AND change.at >= ?`,
      );
      const last = this.store.statement(
        database,
        `SELECT record_id AS id FROM change WHERE sheet_id = ? AND kind = 'recordAdded'
          AND at >= ? AND account_id = ? AND ${ENTERED} ORDER BY change.id DESC LIMIT ${LOOKED}`,
      );
      const written = count.get(person.id, sheetId, since) as Counted;
      const binned = gone.get(person.id, sheetId, since, since) as Counted;
      return {
        counts: { all: written.everyone - binned.everyone, mine: written.mine - binned.mine },
        ids: (last.all(sheetId, since, person.id) as { id: string }[]).map(({ id }) => id),
      };
    });
    const standing = ids.filter((id) => model.has(id)).slice(0, LAST);
    return {
      ...counts,
      last: standing.map((id): NamedRecordView => namedRecord(sheet, model, id)),
    };
  }
}

interface Counted {
  readonly everyone: number;
  readonly mine: number;
}
