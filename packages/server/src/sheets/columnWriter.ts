import type { AddColumn, ArrangeColumn, SheetView } from '@varn/contract';
import { isHeadingFree, KINDS, type Column } from '@varn/core';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { Refused } from '../http/refused';
import { newId } from '../ids';
import { Sheet } from '../store/entities';
import type { Writer } from '../write/recordWriter';
import { StructureWriter } from '../write/structureWriter';
import { SheetReader } from './sheetReader';

/** Adds, renames and moves a sheet's columns. Their ids stay, so nothing else moves. */
@Injectable()
export class ColumnWriter {
  constructor(
    private readonly structure: StructureWriter,
    private readonly reader: SheetReader,
  ) {}

  add(
    sheetId: string,
    { heading, kind, settings, place, revision }: AddColumn,
    writer: Writer,
  ): Promise<SheetView> {
    const column: Column = { id: newId(), heading, kind: KINDS[kind].id, settings: settings ?? {} };
    return this.rearrange(sheetId, revision, writer, (columns) => {
      refuseTaken(heading, columns);
      return columns.toSpliced(place ?? columns.length, 0, column);
    });
  }

  arrange(
    sheetId: string,
    columnId: string,
    { heading, place, revision }: ArrangeColumn,
    writer: Writer,
  ): Promise<SheetView> {
    return this.rearrange(sheetId, revision, writer, (columns) => {
      const at = columns.findIndex(({ id }) => id === columnId);
      const column = columns[at];
      if (!column) throw Refused.notFound('column in this sheet');
      const others = columns.toSpliced(at, 1);
      if (heading !== undefined) refuseTaken(heading, others);
      return others.toSpliced(place ?? at, 0, { ...column, heading: heading ?? column.heading });
    });
  }

  private async rearrange(
    sheetId: string,
    revision: number,
    writer: Writer,
    change: (columns: Column[]) => Column[],
  ): Promise<SheetView> {
    await this.structure.write(
      // The sheet's revision guards it: a repeat is refused as out of date.
      { writeId: randomUUID(), writer, kind: 'columnsChanged', digest: '' },
      async (em) => {
        const sheet = await em.findOneOrFail(Sheet, sheetId);
        if (sheet.revision !== revision) {
          throw Refused.conflict(
            'changedSince',
            'The columns were changed since. Look at the sheet again.',
          );
        }
        const columns = change(sheet.columns);
        await em.nativeUpdate(Sheet, sheetId, { columns, revision: revision + 1 });
        return { workbookId: sheet.workbook.id, sheetId, answer: null };
      },
    );
    return this.reader.show(sheetId);
  }
}

function refuseTaken(heading: string, others: readonly Column[]): void {
  if (
    isHeadingFree(
      heading,
      others.map((other) => other.heading),
    )
  )
    return;
  throw Refused.conflict(
    'headingTaken',
    `Another column is headed ‘${heading.trim()}’. Give each its own.`,
  );
}
