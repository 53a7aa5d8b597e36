import type { FormEntry, Role, SheetLook } from '@varn/contract';
import {
  localeFacts,
  serialNow,
  type StoredColumn,
  type LocaleFacts,
  type RangeName,
} from '@varn/core';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import type { StoredDefinition, StoredDraft } from './storedForm';
import { Form, FreeRowEntity, Membership, Sheet, Workbook, type LostColumnEntry } from './entities';
import { Store } from './store';

export interface WorkbookFacts {
  readonly id: string;
  readonly name: string;
  readonly locale: LocaleFacts;
  readonly timeZone: string;
  readonly currency: string;
  readonly names: readonly RangeName[];
}

export interface SheetFacts {
  readonly id: string;
  readonly workbook: WorkbookFacts;
  readonly name: string;
  readonly place: number;
  readonly revision: number;
  readonly hasRecords: boolean;
  /** Rows above the heading; all of them in a sheet without records. */
  readonly freeRows: number;
  /** The grid's row of the heading, from 1, were there one. */
  readonly headingRow: number;
  readonly columns: readonly StoredColumn[];
  readonly looseColumns: readonly string[];
  readonly lostColumns: readonly LostColumnEntry[];
  readonly look: SheetLook;
  /** Whether it waits in the bin. */
  readonly removed: boolean;
  readonly columnsById: ReadonlyMap<string, StoredColumn>;
}

export interface FormFacts {
  readonly id: string;
  readonly sheet: SheetFacts;
  readonly name: string;
  readonly place: number;
  readonly revision: number;
  /** What is in use. */
  readonly definition: StoredDefinition;
  /** Which version is in use; 0 for none. */
  readonly version: number;
  readonly draft: StoredDraft | null;
  readonly draftRevision: number;
  /** Whether it waits in the bin. */
  readonly removed: boolean;
}

/**
 * Workbooks, sheets, forms and who may do what in them: small, and asked for by every request,
 * so held in memory. The database is the truth; `refresh` follows every change of it.
 */
@Injectable()
export class Catalog implements OnModuleInit {
  private readonly workbooks = new Map<string, WorkbookFacts>();
  private readonly sheets = new Map<string, SheetFacts>();
  private readonly forms = new Map<string, FormFacts>();
  /** Roles by workbook, then by account. */
  private readonly roles = new Map<string, Map<string, Role>>();
  /** How often something was put in: what was read of the database before is out of date. */
  private changes = 0;

  constructor(private readonly store: Store) {}

  async onModuleInit(): Promise<void> {
    await this.store.open();
    for (const { id } of await this.store.em().find(Workbook, {}, { fields: ['id'] })) {
      await this.refresh(id);
    }
  }

  /** Reads a workbook anew, after its structure or its people changed. */
  async refresh(workbookId: string): Promise<void> {
    for (;;) {
      const { changes } = this;
      const found = await this.read(workbookId);
      // What came in the meantime is newer than what was read: it is read once more.
      if (changes !== this.changes) continue;
      this.putAll(workbookId, found);
      return;
    }
  }

  private async read(workbookId: string) {
    const em = this.store.em();
    const { name, locale, timeZone, currency, names } = await em.findOneOrFail(
      Workbook,
      workbookId,
    );
    const sheets = await em.find(Sheet, { workbook: workbookId, arriving: false });
    const forms = await em.find(Form, { sheet: { workbook: workbookId } });
    const members = await em.find(Membership, { workbook: workbookId });
    const freeRows = new Map<string, number>();
    for (const { id } of sheets) {
      freeRows.set(id, await em.count(FreeRowEntity, { sheet: id, removedAt: null }));
    }
    const ways = { locale: localeFacts(locale), timeZone, currency };
    const workbook = { id: workbookId, name, ...ways, names };
    return { workbook, sheets, forms, members, freeRows };
  }

  private putAll(
    workbookId: string,
    { workbook, sheets, forms, members, freeRows }: Awaited<ReturnType<Catalog['read']>>,
  ): void {
    this.changes += 1;
    this.workbooks.set(workbookId, workbook);
    this.forgetAllBut(workbookId, new Set([...sheets, ...forms].map(({ id }) => id)));
    for (const sheet of sheets) this.put(factsOf(sheet, workbook, freeRows.get(sheet.id) ?? 0));
    for (const form of forms) {
      const { id, name, place, revision, definition, version, draft, draftRevision } = form;
      const sheet = this.sheets.get(form.sheet.id);
      const removed = form.removedAt !== null;
      const rest = { name, place, revision, definition, version, draft, draftRevision, removed };
      if (sheet) this.forms.set(id, { id, sheet, ...rest });
    }
    this.roles.set(workbookId, new Map(members.map(({ account, role }) => [account.id, role])));
  }

  /** Forgets sheets and forms that are in the database no more. */
  private forgetAllBut(workbookId: string, ids: ReadonlySet<string>): void {
    for (const sheet of this.allSheetsOf(workbookId)) {
      for (const { id } of this.allFormsOf(sheet.id)) if (!ids.has(id)) this.forms.delete(id);
      if (!ids.has(sheet.id)) this.sheets.delete(sheet.id);
    }
  }

  /** Puts in what a write made of a sheet, before the database is read again. */
  put(sheet: SheetFacts): void {
    this.changes += 1;
    this.sheets.set(sheet.id, sheet);
    for (const form of this.allFormsOf(sheet.id)) this.forms.set(form.id, { ...form, sheet });
  }

  /** Puts in a form's draft, before the database is read again. */
  putDraft(formId: string, draft: StoredDraft | null, draftRevision: number): void {
    this.changes += 1;
    const form = this.forms.get(formId);
    if (form) this.forms.set(formId, { ...form, draft, draftRevision });
  }

  /** Puts in the named ranges a write left. */
  putNames(workbookId: string, names: readonly RangeName[]): void {
    const held = this.workbooks.get(workbookId);
    if (!held) return;
    const workbook = { ...held, names };
    this.changes += 1;
    this.workbooks.set(workbookId, workbook);
    for (const sheet of this.allSheetsOf(workbookId)) this.put({ ...sheet, workbook });
  }

  workbook(id: string): WorkbookFacts | undefined {
    return this.workbooks.get(id);
  }

  sheet(id: string): SheetFacts | undefined {
    return this.sheets.get(id);
  }

  /** A sheet that is not in the bin. */
  sheetInUse(id: string): SheetFacts | undefined {
    const sheet = this.sheets.get(id);
    return sheet?.removed === false ? sheet : undefined;
  }

  /** A form that is not in the bin. */
  form(id: string): FormFacts | undefined {
    const form = this.forms.get(id);
    return form?.removed === false ? form : undefined;
  }

  /** A form, also one in the bin. */
  anyForm(id: string): FormFacts | undefined {
    return this.forms.get(id);
  }

  role(workbookId: string, accountId: string): Role | undefined {
    return this.roles.get(workbookId)?.get(accountId);
  }

  /** The workbooks an account has a role in, by name. */
  workbooksOf(accountId: string): { workbook: WorkbookFacts; role: Role }[] {
    return [...this.workbooks.values()]
      .flatMap((workbook) => {
        const role = this.role(workbook.id, accountId);
        return role ? [{ workbook, role }] : [];
      })
      .sort((a, b) => a.workbook.name.localeCompare(b.workbook.name));
  }

  /** A workbook's sheets as they stand, those in the bin left out. */
  sheetsOf(workbookId: string): SheetFacts[] {
    return this.allSheetsOf(workbookId)
      .filter(({ removed }) => !removed)
      .sort((a, b) => a.place - b.place);
  }

  /** A workbook's sheets, those in the bin too. */
  allSheetsOf(workbookId: string): SheetFacts[] {
    return [...this.sheets.values()].filter(({ workbook }) => workbook.id === workbookId);
  }

  /** A sheet's forms as they stand, those in the bin left out. */
  formsOf(sheetId: string): FormFacts[] {
    return this.allFormsOf(sheetId).filter(({ removed }) => !removed);
  }

  /** A sheet's forms, those in the bin too. */
  allFormsOf(sheetId: string): FormFacts[] {
    return [...this.forms.values()]
      .filter(({ sheet }) => sheet.id === sheetId)
      .sort((a, b) => a.place - b.place);
  }
}

function factsOf(sheet: Sheet, workbook: WorkbookFacts, freeRows: number): SheetFacts {
  const { id, name, place, revision, hasRecords, columns, looseColumns, lostColumns, look } = sheet;
  return {
    id,
    workbook,
    name,
    place,
    revision,
    hasRecords,
    freeRows,
    headingRow: freeRows + 1,
    columns,
    looseColumns,
    lostColumns,
    look,
    removed: sheet.removedAt !== null,
    columnsById: new Map(columns.map((column) => [column.id, column])),
  };
}

export const formEntry = ({ id, name, version, draft }: FormFacts): FormEntry => ({
  id,
  name,
  version,
  ...(draft && { hasDraft: true }),
});

/** The serial of the server's now, in a workbook's time zone. */
export function nowIn(workbook: WorkbookFacts): number {
  return serialNow(Date.now(), workbook.timeZone);
}

const DAY_MS = 86_400_000;

/** When a workbook's day began, in milliseconds since 1970 UTC; on a day of 23 hours an hour off. */
export const midnightIn = (workbook: WorkbookFacts): number =>
  Math.floor(Date.now() - (nowIn(workbook) % 1) * DAY_MS);
