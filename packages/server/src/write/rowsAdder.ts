import type { CellRefusal, NewRecord } from '@varn/contract';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { Calculator } from '../calculation/calculator';
import { Refused } from '../http/refused';
import { Catalog } from '../store/catalog';
import { FormNotes } from './formNotes';
import { Edit } from './gridWriter';
import type { Decide, Decided } from './deciding';
import { LargeWrites } from './largeWrites';
import { WritePath } from './writePath';
import type { WriteSite } from './decision';

/** Rows to be added, and how the write is known. */
export interface RowsOrder {
  readonly sheetId: string;
  readonly writeId: string;
  readonly writer: Writer;
  /** What the write is told apart by. */
  readonly asked: readonly string[];
}

/** Adds the rows of a file to a sheet: each whole, or not at all. */
@Injectable()
export class RowsAdder {
  constructor(
    private readonly path: WritePath,
    private readonly large: LargeWrites,
    private readonly calculator: Calculator,
    private readonly catalog: Catalog,
  ) {}

  /** What of the rows is refused or asked about; nothing is written. */
  async check(
    sheetId: string,
    rows: readonly NewRecord[],
    writer: Writer,
  ): Promise<readonly CellRefusal[]> {
    const { answer } = await this.large.tryOut(sheetId, writer, null, this.decide(rows, writer));
    return (answer as { readonly refused: readonly CellRefusal[] }).refused;
  }

  /**
   * Adds rows that were checked, as one write.
   *
   * @returns how many were added
   * @throws Refused 409 where a row is not taken any more, as the sheet was changed since
   */
  async add(order: RowsOrder, rows: readonly NewRecord[]): Promise<number> {
    const decide = this.decide(rows, order.writer);
    const whole: Decide = function* (site) {
      const decided = yield* decide(site);
      const { refused } = decided.answer as { readonly refused: readonly CellRefusal[] };
      if (refused.length === 0) return decided;
      throw Refused.conflict(
        'changedSince',
        'The sheet has changed since the file was checked, and some rows no longer pass. Check it again.',
      );
    };
    const { changes } = await this.path.writeMany({ ...order, door: 'file' }, whole, {
      records: rows.length,
    });
    return changes.length;
  }

  private decide(
    rows: readonly NewRecord[],
    writer: Writer,
  ): (site: WriteSite) => Generator<undefined, Decided> {
    const { calculator, catalog } = this;
    return function* (site): Generator<undefined, Decided> {
      const calculation = calculator.loaded(site.sheet.workbook.id);
      const notes = new FormNotes(catalog.formsOf(site.sheet.id), site.sheet.columnsById);
      const batch = new Edit(site, writer, calculation, notes, { partly: false, door: 'File' });
      yield* batch.addRecords(rows);
      batch.refuseTakenKeys();
      return { decisions: batch.decisions, answer: { refused: batch.refusals() } };
    };
  }
}
