import {
  mayAs,
  type OverviewView,
  type PlaceEntry,
  type WorkbookEntry,
  type WorkbookView,
} from '@varn/contract';
import { Injectable } from '@nestjs/common';
import { ChangeLog } from '../log/changeLog';
import { Refused } from '../http/refused';
import { KeptQuestions } from '../search/keptQuestions';
import { SheetCache } from '../store/sheetCache';
import {
  Catalog,
  formEntry,
  midnightIn,
  type SheetFacts,
  type WorkbookFacts,
} from '../store/catalog';

@Injectable()
export class WorkbookReader {
  constructor(
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly changes: ChangeLog,
    private readonly questions: KeptQuestions,
  ) {}

  async list(personId: string): Promise<WorkbookEntry[]> {
    return Promise.all(
      this.catalog.workbooksOf(personId).map(async ({ workbook: { id, name }, role }) => {
        const sheets = this.catalog.sheetsOf(id);
        const last = await this.changes.lastOfWorkbook(id);
        const counts = await Promise.all(sheets.map((sheet) => this.cache.count(sheet.id)));
        return {
          id,
          name,
          role,
          sheets: sheets.length,
          forms: sheets.reduce((sum, sheet) => sum + this.catalog.formsOf(sheet.id).length, 0),
          records: counts.reduce((sum, count) => sum + count, 0),
          ...(last && { last }),
        };
      }),
    );
  }

  async show(workbookId: string, personId: string): Promise<WorkbookView> {
    const workbook = this.catalog.workbook(workbookId);
    const role = this.catalog.role(workbookId, personId);
    if (!workbook || !role) throw Refused.notFound('workbook');
    const seq = await this.changes.lastSeq(workbookId);
    const feeding = feedingIn(workbook, this.catalog.sheetsOf(workbookId));
    const sheets = await Promise.all(
      this.catalog.sheetsOf(workbookId).map(async ({ id, name, hasRecords }) => ({
        id,
        name,
        hasRecords,
        ...(feeding.has(id) && { feeds: true }),
        records: await this.cache.count(id),
        forms: this.catalog.formsOf(id).map(formEntry),
      })),
    );
    const removedForms = mayAs(role, 'analyst')
      ? this.catalog
          .sheetsOf(workbookId)
          .flatMap((sheet) => this.catalog.allFormsOf(sheet.id))
          .filter(({ removed }) => removed)
          .map(formEntry)
      : [];
    const questions = await this.questions.of(workbookId, personId);
    const { id, name, locale, timeZone, currency } = workbook;
    const ways = { locale: locale.tag, timeZone, currency };
    return { id, name, ...ways, role, seq, sheets, questions, removedForms };
  }

  /** Every place of one's workbooks, by workbook and sheet. */
  places(personId: string): PlaceEntry[] {
    return this.catalog.workbooksOf(personId).flatMap(({ workbook }): PlaceEntry[] => {
      const within = { workbookId: workbook.id, workbook: workbook.name };
      const ofSheet = (sheet: SheetFacts): PlaceEntry[] => {
        const inSheet = { ...within, sheetId: sheet.id, sheet: sheet.name };
        return [
          { is: 'sheet', ...inSheet, label: sheet.name },
          ...this.catalog.formsOf(sheet.id).map(({ id, name }) => {
            return { is: 'form', ...inSheet, label: name, id } as const;
          }),
          ...sheet.columns.map(({ id, heading }) => {
            return { is: 'column', ...inSheet, label: heading, id } as const;
          }),
        ];
      };
      return [
        { is: 'workbook', ...within, label: workbook.name },
        ...this.catalog.sheetsOf(workbook.id).flatMap(ofSheet),
        ...workbook.names.flatMap(({ name, reference }): PlaceEntry[] => {
          if (reference.kind === 'name') return [];
          const sheet = this.catalog.sheet(reference.sheet);
          return sheet
            ? [{ is: 'name', ...within, sheetId: sheet.id, sheet: sheet.name, label: name }]
            : [];
        }),
      ];
    });
  }

  /** What was written into each sheet today, and last. */
  async overview(workbookId: string): Promise<OverviewView> {
    const workbook = this.catalog.workbook(workbookId);
    if (!workbook) throw Refused.notFound('workbook');
    const since = midnightIn(workbook);
    const sheets = await Promise.all(
      this.catalog.sheetsOf(workbookId).map(async ({ id }) => {
        const { today, last } = await this.changes.addedTo(id, since);
        const isEmpty = (await this.cache.count(id)) === 0;
        return { sheetId: id, today, ...(last && !isEmpty && { last }) };
      }),
    );
    return { sheets };
  }
}

/** The sheets that lists are fed by, also by way of a name. */
function feedingIn({ names }: WorkbookFacts, sheets: readonly SheetFacts[]): ReadonlySet<string> {
  const lists = sheets.flatMap(({ columns }) =>
    columns.flatMap(({ settings }) => settings.list ?? []),
  );
  const read = lists.flatMap(({ source }) => source.references);
  const isNamed = read.some(({ kind }) => kind === 'name');
  const direct = read.flatMap((each) => (each.kind === 'name' ? [] : [each.sheet]));
  const named = names.flatMap(({ reference: each }) => (each.kind === 'name' ? [] : [each.sheet]));
  return new Set(isNamed ? [...direct, ...named] : direct);
}
