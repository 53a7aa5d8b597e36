import {
  mayAs,
  type AddRows,
  type CellRefusal,
  type HeldRowView,
  type NewRecord,
  type RowsAdded,
  type RowsChecked,
  type RowsOfFile,
} from '@varn/contract';
import {
  isErrorValue,
  isTyped,
  kindOf,
  serialNow,
  typedValue,
  type ArrivalPlan,
  type CellValue,
  type Column,
  type LocaleFacts,
} from '@varn/core';
import { CsvFileError, csvHeading, csvRows, readFileInto } from '@varn/files';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { Refused } from '../http/refused';
import { Catalog, type SheetFacts } from '../store/catalog';
import { Pace } from '../turns/turns';
import { RowsAdder } from '../write/rowsAdder';
import { refuseOther } from './refuseOther';
import { UploadStore } from './uploadStore';

/** The most rows of a file that are added at once; they are held in memory for it. */
const MOST_ROWS = 100_000;
/** Rows that are written down before others may be answered. */
const FEW = 500;
/** Values that are told one by one. */
const MOST_TOLD = 200;

/** Rows of a file as texts of the columns they are paired with, and what the sheet says of them. */
interface Checked {
  readonly sheet: SheetFacts;
  readonly rows: readonly NewRecord[];
  /** The file's row of each, from 1. */
  readonly places: readonly number[];
  /** What is held against rows, by their place. */
  readonly held: ReadonlyMap<number, readonly CellRefusal[]>;
}

/** Adds the rows of an uploaded file to a sheet there is, held against its rules before. */
@Injectable()
export class RowsService {
  constructor(
    private readonly uploads: UploadStore,
    private readonly adder: RowsAdder,
    private readonly catalog: Catalog,
  ) {}

  /** What adding the rows would come to. */
  async check(uploadId: string, order: RowsOfFile, person: Writer): Promise<RowsChecked> {
    const { sheet, rows, places, held } = await this.checked(uploadId, order, person);
    const asked = [...held.values()].filter(isOnlyAsked).length;
    return {
      records: rows.length,
      passing: rows.length - held.size,
      asked,
      refused: held.size - asked,
      held: [...held].slice(0, MOST_TOLD).flatMap(([at, refusals]) =>
        refusals.map((refusal): HeldRowView => {
          const { column, message, strictness } = refusal;
          const heading = sheet.columnsById.get(column)?.heading ?? '';
          const text = (rows[at]?.answers[column] ?? '').slice(0, 200);
          return { row: places[at] ?? 0, heading, text, message, strictness };
        }),
      ),
    };
  }

  /** Adds the rows that pass, as one write. */
  async add(uploadId: string, order: AddRows, person: Writer): Promise<RowsAdded> {
    const { sheet, rows, held } = await this.checked(uploadId, order, person);
    const taken = rows.flatMap((row, at): NewRecord[] => {
      const refusals = held.get(at);
      if (!refusals) return [row];
      if (order.takesAsked !== true || !isOnlyAsked(refusals)) return [];
      return [{ ...row, meant: refusals.map(({ column }) => column) }];
    });
    if (taken.length === 0) {
      throw Refused.badRequest(
        'noRecords',
        'No row of the file passes. Correct them, or the rules.',
      );
    }
    const { writeId, ...asked } = order;
    const added = await this.adder.add(
      {
        sheetId: sheet.id,
        writeId,
        writer: person,
        asked: ['rows', uploadId, JSON.stringify(asked)],
      },
      taken,
    );
    return { added, left: rows.length - taken.length };
  }

  /** The rows that would be left out, as CSV, each with why. */
  async held(uploadId: string, order: RowsOfFile, person: Writer): Promise<string> {
    const { sheet, rows, held } = await this.checked(uploadId, order, person);
    const left = [...held].filter(([, each]) => order.takesAsked !== true || !isOnlyAsked(each));
    const paired = order.columns.flatMap(({ columnId }) => sheet.columnsById.get(columnId) ?? []);
    const text = (heading: string): Column => ({ id: '', heading, kind: 'text', settings: {} });
    const columns = [...paired.map(({ heading }) => text(heading)), text('Why')];
    const parts = [csvHeading(columns, { guarded: true })];
    const pace = new Pace();
    for (let from = 0; from < left.length; from += FEW) {
      const lines = left
        .slice(from, from + FEW)
        .map(([at, refusals]) => [
          ...paired.map(({ id }) => rows[at]?.answers[id] ?? null),
          refusals.map(({ message }) => message).join(' '),
        ]);
      parts.push(csvRows(columns, lines, { guarded: true }));
      await pace.keep();
    }
    return parts.join('');
  }

  private async checked(uploadId: string, order: RowsOfFile, person: Writer): Promise<Checked> {
    const sheet = this.sheetFor(order, person);
    const upload = await this.uploads.find(uploadId, person.id);
    const path = this.uploads.pathOf(uploadId);
    await refuseOther(path, upload.fileName);
    try {
      const { rows, places } = await this.read(path, order, sheet);
      const refusals = await this.adder.check(sheet.id, rows, person);
      const held = new Map<number, CellRefusal[]>();
      for (const refusal of [...refusals].sort((a, b) => a.at - b.at)) {
        held.set(refusal.at, [...(held.get(refusal.at) ?? []), refusal]);
      }
      return { sheet, rows, places, held };
    } catch (error) {
      if (error instanceof CsvFileError) {
        throw Refused.unreadable(`${upload.fileName}: ${error.message}`);
      }
      throw error;
    }
  }

  /** @throws Refused where one may not add to the sheet, or the columns can't be paired so */
  private sheetFor({ sheetId, columns }: RowsOfFile, person: Writer): SheetFacts {
    const sheet = this.catalog.sheetInUse(sheetId);
    const role = sheet && this.catalog.role(sheet.workbook.id, person.id);
    if (!sheet) throw Refused.notFound('sheet');
    if (!role || !mayAs(role, 'analyst')) {
      throw Refused.forbidden('Only its analysts and owner can bring files into this workbook.');
    }
    if (!sheet.hasRecords) {
      throw Refused.badRequest('noRecords', `sheetId: ${sheet.name} holds no records to add to.`);
    }
    const taken = new Set<string>();
    columns.forEach(({ columnId }, index) => {
      const column = sheet.columnsById.get(columnId);
      const where = `columns.${index}.columnId`;
      if (!column)
        throw Refused.badRequest('noSuchColumn', `${where}: is not a column of the sheet.`);
      if (!isTyped(column) || column.kind === 'file') {
        throw Refused.badRequest(
          'notTyped',
          `${where}: ${column.heading} is not filled from files.`,
        );
      }
      if (taken.has(columnId)) {
        throw Refused.badRequest('columnTwice', `${where}: ${column.heading} is paired twice.`);
      }
      taken.add(columnId);
    });
    return sheet;
  }

  /** The file's records as texts for the sheet's columns, read in the file's own style. */
  private async read(
    path: string,
    order: RowsOfFile,
    sheet: SheetFacts,
  ): Promise<Pick<Checked, 'rows' | 'places'>> {
    const { encoding, delimiter, headingRow, headingRows, keepTotals, guarded, without } = order;
    const { locale, timeZone } = sheet.workbook;
    const columns = order.columns.flatMap(({ columnId, ...rest }) => {
      const column = sheet.columnsById.get(columnId);
      return column ? [{ column, arriving: { ...rest, heading: column.heading } }] : [];
    });
    const plan: ArrivalPlan = {
      headingRow: headingRow === 0 ? null : headingRow,
      headingRows,
      keepTotals,
      guarded,
      ...(without && { without }),
      columns: columns.map(({ column, arriving }) => ({
        ...arriving,
        kind: kindOf(column).holds === 'number' ? column.kind : 'text',
      })),
    };
    const rows: NewRecord[] = [];
    const places: number[] = [];
    const now = serialNow(Date.now(), timeZone);
    const dialect = { encoding, delimiter };
    await readFileInto('csv', { path, dialect, plan, locale: locale.tag, now }, (batch, at) => {
      if (rows.length + batch.length > MOST_ROWS) {
        throw Refused.tooLarge(
          `The file has more than ${MOST_ROWS} rows, the most that are added at once. Split it.`,
        );
      }
      for (const values of batch) {
        const answers = columns.map(
          ({ column }, n) => [column.id, textOf(values[n] ?? null, column, locale)] as const,
        );
        rows.push({ answers: Object.fromEntries(answers.filter(([, text]) => text !== '')) });
      }
      places.push(...at);
      return Promise.resolve();
    });
    if (rows.length === 0) {
      throw Refused.badRequest(
        'noRecords',
        'There is no record in the file. Check which row the heading is.',
      );
    }
    return { rows, places };
  }
}

const isOnlyAsked = (refusals: readonly CellRefusal[]): boolean =>
  refusals.every(({ strictness }) => strictness === 'ask');

/** What one would type to have a value of the file, as the workbook writes it. */
function textOf(value: CellValue, column: Column, locale: LocaleFacts): string {
  if (value === null || isErrorValue(value)) return '';
  return typeof value === 'string' ? value.trim() : typedValue(value, column, locale);
}
