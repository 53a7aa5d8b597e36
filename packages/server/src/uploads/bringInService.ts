import {
  mayAs,
  type BringIn,
  type BroughtIn,
  type FileRowsView,
  type LookAtRows,
  type ReadingChoices,
  type UploadView,
} from '@varn/contract';
import {
  isHeadingFree,
  kindOf,
  serialNow,
  type ArrivalPlan,
  type Column,
  type Layout,
} from '@varn/core';
import {
  CsvFileError,
  lookThroughFile,
  readFileInto,
  rowsOfFile,
  type IntakeReport,
} from '@varn/files';
import { Injectable } from '@nestjs/common';
import { Refused } from '../http/refused';
import { digestOf, newId } from '../ids';
import { Catalog } from '../store/catalog';
import type { Upload } from '../store/entities';
import { ArrivalWriter, type NewWorkbook } from '../write/arrivalWriter';
import type { Writer } from '../access/access';
import { FileMarks } from './fileMarks';
import { refuseOther } from './refuseOther';
import { UploadStore } from './uploadStore';

const USUAL_LOCALE = 'en-GB';
/** A preview shows where a cell's text begins; the whole is in the file. */
const LONGEST_SHOWN = 200;

const shortened = (cells: readonly string[]): string[] =>
  cells.map((cell) => cell.slice(0, LONGEST_SHOWN));

/** Names a file and how it is read. */
const wayOf = (
  uploadId: string,
  { encoding, delimiter }: Pick<LookAtRows, 'encoding' | 'delimiter'>,
): string => `${uploadId} ${encoding} ${delimiter}`;

/** Shows what a file would become, and makes it a sheet. */
@Injectable()
export class BringInService {
  private readonly marks = new FileMarks();

  constructor(
    private readonly uploads: UploadStore,
    private readonly arrivals: ArrivalWriter,
    private readonly catalog: Catalog,
  ) {}

  async preview(uploadId: string, choices: ReadingChoices, person: Writer): Promise<UploadView> {
    const upload = await this.uploads.find(uploadId, person.id);
    const { encoding, delimiter, keepTotals = false, guarded = true } = choices;
    const layout = layoutOf(choices);
    await refuseOther(this.uploads.pathOf(uploadId), upload.fileName);
    const { dialect, preview, marks } = await this.readable(upload, () =>
      lookThroughFile('csv', this.uploads.pathOf(uploadId), {
        dialect: { ...(encoding && { encoding }), ...(delimiter && { delimiter }) },
        ...(layout && { layout }),
        keepTotals,
        guarded,
        locale: this.localeOf(choices.workbookId, person, choices.locale),
      }),
    );
    this.marks.keep(wayOf(upload.id, dialect), marks);
    const { plan, columns, rows, later, doubles, ...counts } = preview;
    return {
      id: upload.id,
      fileName: upload.fileName,
      bytes: upload.bytes,
      ...dialect,
      headingRow: plan.headingRow ?? 0,
      headingRows: plan.headingRows,
      keepTotals,
      guarded,
      columns: [...columns],
      rows: rows.map(shortened),
      later: later.map(({ row, cells }) => ({ row, cells: shortened(cells) })),
      doubles: doubles.map(({ index, values }) => ({ index, values: shortened(values) })),
      fileRows: counts.fileRows,
      records: counts.records,
      blankRows: [...counts.blankRows],
      totalsRows: [...counts.totalsRows],
      shortRows: counts.shortRows,
      longRows: counts.longRows,
    };
  }

  /** Some rows of a file as they are. */
  async rows(uploadId: string, order: LookAtRows, person: Writer): Promise<FileRowsView> {
    const upload = await this.uploads.find(uploadId, person.id);
    const path = this.uploads.pathOf(uploadId);
    await refuseOther(path, upload.fileName);
    const { encoding, delimiter, from, count } = order;
    const dialect = { encoding, delimiter };
    const start = this.marks.before(wayOf(upload.id, dialect), from);
    const rows = await this.readable(upload, () =>
      rowsOfFile('csv', { path, dialect, from, count, ...(start && { start }) }),
    );
    return { rows: rows.map(shortened) };
  }

  async bringIn(uploadId: string, order: BringIn, person: Writer): Promise<BroughtIn> {
    const upload = await this.uploads.find(uploadId, person.id);
    const into = this.target(order, person);
    checkColumns(order);
    const locale = typeof into === 'string' ? this.localeOf(into, person) : into.locale;
    const timeZone =
      typeof into === 'string' ? (this.catalog.workbook(into)?.timeZone ?? 'UTC') : into.timeZone;
    const currency =
      typeof into === 'string' ? this.catalog.workbook(into)?.currency : into.currency;
    const columns = order.columns.map(({ heading, kind, decimals }): Column<never> => ({
      id: newId(),
      heading,
      kind,
      settings: {
        ...(kind === 'number' && decimals !== undefined && { decimals }),
        ...(kind === 'money' && currency !== undefined && { currency }),
      },
    }));
    const path = this.uploads.pathOf(uploadId);
    await refuseOther(path, upload.fileName);
    return this.readable(upload, () =>
      this.arrivals.bringIn({
        writeId: order.writeId,
        digest: digestOf(person.id, uploadId, JSON.stringify(order)),
        writer: person,
        into,
        sheet: { name: order.sheetName.trim(), columns },
        source: async (store) => {
          const { encoding, delimiter } = order;
          const now = serialNow(Date.now(), timeZone);
          const plan = planOf(order);
          const dialect = { encoding, delimiter };
          const report = await readFileInto('csv', { path, dialect, plan, locale, now }, store);
          refuseNothing(report, order);
          const { topMatter, records, blankRows, totalsRows, keptAsText } = report;
          return { topMatter, counts: { records, blankRows, totalsRows, keptAsText } };
        },
      }),
    );
  }

  private target(
    { workbookId, workbookName, locale, timeZone, currency }: BringIn,
    person: Writer,
  ): string | NewWorkbook {
    if (workbookId === undefined) {
      const name = workbookName?.trim() ?? '';
      if (name === '') throw Refused.badRequest('unnamed', 'workbookName: Name the new workbook.');
      const ways = { locale: locale ?? USUAL_LOCALE, timeZone: knownZone(timeZone ?? 'UTC') };
      return { name, ...ways, ...(currency !== undefined && { currency }) };
    }
    this.localeOf(workbookId, person);
    return workbookId;
  }

  /** The locale of a workbook one may bring sheets into; for a new one, the one asked for. */
  private localeOf(workbookId: string | undefined, person: Writer, locale?: string): string {
    if (workbookId === undefined) return locale ?? USUAL_LOCALE;
    const workbook = this.catalog.workbook(workbookId);
    const role = this.catalog.role(workbookId, person.id);
    if (!workbook) throw Refused.notFound('workbook');
    if (!role || !mayAs(role, 'analyst')) {
      throw Refused.forbidden('Only its analysts and owner can bring sheets into this workbook.');
    }
    return workbook.locale.tag;
  }

  /** Tells of a file that can't be read as a refusal that names the file. */
  private async readable<T>({ fileName }: Upload, work: () => Promise<T>): Promise<T> {
    try {
      return await work();
    } catch (error) {
      if (error instanceof CsvFileError) throw Refused.unreadable(`${fileName}: ${error.message}`);
      throw error;
    }
  }
}

/** A heading alone makes a sheet to be filled; without one there must be records. */
function refuseNothing({ rows, records }: IntakeReport, { headingRow }: BringIn): void {
  if (records > 0 || (headingRow > 0 && headingRow <= rows)) return;
  throw Refused.badRequest(
    'noRecords',
    `headingRow: there is nothing at or under row ${headingRow}; the file has ${rows} rows. Check which row the heading is.`,
  );
}

function layoutOf({ headingRow, headingRows }: ReadingChoices): Layout | undefined {
  if (headingRow === undefined) return undefined;
  return { headingRow: headingRow === 0 ? null : headingRow, headingRows: headingRows ?? 1 };
}

function planOf(order: BringIn): ArrivalPlan {
  const { headingRow, headingRows, keepTotals, guarded, columns, without } = order;
  return {
    headingRow: headingRow === 0 ? null : headingRow,
    headingRows,
    keepTotals,
    guarded,
    columns,
    ...(without && { without }),
  };
}

function checkColumns({ columns }: BringIn): void {
  columns.forEach(({ heading, kind }, index) => {
    const { typing, filledBy, label } = kindOf({ kind });
    if (typing === 'none' || filledBy !== 'people') {
      throw Refused.badRequest(
        'kind',
        `columns.${index}.kind: a file’s column can’t become ${label}.`,
      );
    }
    const others = columns.slice(0, index).map((other) => other.heading);
    if (!isHeadingFree(heading, others)) {
      throw Refused.badRequest(
        'headingTaken',
        `columns.${index}.heading: ‘${heading}’ stands twice. Give each its own.`,
      );
    }
  });
}

function knownZone(timeZone: string): string {
  try {
    serialNow(0, timeZone);
    return timeZone;
  } catch {
    throw Refused.badRequest('timeZone', `timeZone: ‘${timeZone}’ is not an IANA time zone.`);
  }
}
