import type { Role } from '@varn/contract';
import {
  localeFacts,
  serialNow,
  type Column,
  type FormDefinition,
  type LocaleFacts,
} from '@varn/core';
import { Injectable, type OnModuleInit } from '@nestjs/common';
import { Form, Membership, Sheet, Workbook } from './entities';
import { Store } from './store';

export interface WorkbookFacts {
  readonly id: string;
  readonly name: string;
  readonly locale: LocaleFacts;
  readonly timeZone: string;
}

export interface SheetFacts {
  readonly id: string;
  readonly workbook: WorkbookFacts;
  readonly name: string;
  readonly place: number;
  readonly revision: number;
  readonly headingRow: number;
  readonly topMatter: (string | null)[][];
  readonly columns: readonly Column[];
  readonly columnsById: ReadonlyMap<string, Column>;
}

export interface FormFacts {
  readonly id: string;
  readonly sheet: SheetFacts;
  readonly name: string;
  readonly place: number;
  readonly revision: number;
  readonly definition: FormDefinition;
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

  constructor(private readonly store: Store) {}

  async onModuleInit(): Promise<void> {
    await this.store.open();
    for (const { id } of await this.store.em().find(Workbook, {}, { fields: ['id'] })) {
      await this.refresh(id);
    }
  }

  /** Reads a workbook anew, after its structure or its people changed. */
  async refresh(workbookId: string): Promise<void> {
    const em = this.store.em();
    const { name, locale, timeZone } = await em.findOneOrFail(Workbook, workbookId);
    const sheets = await em.find(Sheet, { workbook: workbookId, arriving: false });
    const forms = await em.find(Form, { sheet: { workbook: workbookId } });
    const members = await em.find(Membership, { workbook: workbookId });

    const workbook = { id: workbookId, name, locale: localeFacts(locale), timeZone };
    this.workbooks.set(workbookId, workbook);
    for (const { id, name, place, revision, headingRow, topMatter, columns } of sheets) {
      const columnsById = new Map(columns.map((column) => [column.id, column]));
      this.sheets.set(id, {
        id,
        workbook,
        name,
        place,
        revision,
        headingRow,
        topMatter,
        columns,
        columnsById,
      });
    }
    for (const { id, sheet, name, place, revision, definition } of forms) {
      const facts = this.sheets.get(sheet.id);
      if (facts) this.forms.set(id, { id, sheet: facts, name, place, revision, definition });
    }
    this.roles.set(workbookId, new Map(members.map(({ account, role }) => [account.id, role])));
  }

  workbook(id: string): WorkbookFacts | undefined {
    return this.workbooks.get(id);
  }

  sheet(id: string): SheetFacts | undefined {
    return this.sheets.get(id);
  }

  form(id: string): FormFacts | undefined {
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

  /** A workbook's sheets as they stand. */
  sheetsOf(workbookId: string): SheetFacts[] {
    return [...this.sheets.values()]
      .filter(({ workbook }) => workbook.id === workbookId)
      .sort((a, b) => a.place - b.place);
  }

  formsOf(sheetId: string): FormFacts[] {
    return [...this.forms.values()]
      .filter(({ sheet }) => sheet.id === sheetId)
      .sort((a, b) => a.place - b.place);
  }
}

/** The serial of the server's now, in a workbook's time zone. */
export function nowIn(workbook: WorkbookFacts): number {
  return serialNow(Date.now(), workbook.timeZone);
}
