import type { Role, SheetLook } from '@varn/contract';
import type { CellValue, ChangeKind, StoredColumn, StoredFreeCells, RangeName } from '@varn/core';
import type { StoredDefinition, StoredDraft } from './storedForm';
import { Entity, Index, ManyToOne, PrimaryKey, Property, Unique } from '@mikro-orm/core';

/** A person who may sign in. */
@Entity({ tableName: 'account' })
export class Account {
  @PrimaryKey({ type: 'text' }) id!: string;
  @Property({ type: 'text' }) name!: string;
  @Property({ type: 'text' }) @Unique() email!: string;
  /** argon2id, with its salt and costs, in the PHC string format. */
  @Property({ type: 'text' }) passwordHash!: string;
  /** Whether the demo's sign-in page offers this person. */
  @Property({ type: 'boolean', default: false }) demo = false;
}

/** A signed-in browser. Only a digest of its token is kept. */
@Entity({ tableName: 'session' })
export class Session {
  @PrimaryKey({ type: 'text' }) tokenDigest!: string;
  @ManyToOne(() => Account, { deleteRule: 'cascade' }) account!: Account;
  /** Milliseconds since 1970 UTC. */
  @Property({ type: 'integer' }) expiresAt!: number;
}

@Entity({ tableName: 'workbook' })
export class Workbook {
  @PrimaryKey({ type: 'text' }) id!: string;
  @Property({ type: 'text' }) name!: string;
  @Property({ type: 'text' }) locale!: string;
  @Property({ type: 'text' }) timeZone!: string;
  /** ISO 4217, of money columns that name none. */
  @Property({ type: 'text', default: 'EUR' }) currency = 'EUR';
  /** Ranges that have a name. */
  @Property({ type: 'json', default: '[]' }) names: RangeName[] = [];
}

/** What an account may do in a workbook. */
@Entity({ tableName: 'membership' })
export class Membership {
  @ManyToOne(() => Workbook, { primary: true, deleteRule: 'cascade' }) workbook!: Workbook;
  @ManyToOne(() => Account, { primary: true, deleteRule: 'cascade' }) account!: Account;
  @Property({ type: 'text' }) role!: Role;
}

@Entity({ tableName: 'sheet' })
export class Sheet {
  @PrimaryKey({ type: 'text' }) id!: string;
  @ManyToOne(() => Workbook, { deleteRule: 'cascade' }) workbook!: Workbook;
  @Property({ type: 'text' }) name!: string;
  @Property({ type: 'integer' }) place!: number;
  /** The columns in the order they stand; their ids are permanent. */
  @Property({ type: 'json' }) columns!: StoredColumn[];
  @Property({ type: 'integer' }) revision!: number;
  /** While a file's records are still being stored; nobody sees the sheet yet. */
  @Property({ type: 'boolean', default: false }) arriving = false;
  /** Whether it has a record block; else all of its rows are free. */
  @Property({ type: 'boolean', default: true }) hasRecords = true;
  /** Ids of columns without a heading, to the right of the others. */
  @Property({ type: 'json', default: '[]' }) looseColumns: string[] = [];
  /** Columns that were deleted; their values stay in the records, so that they can come back. */
  @Property({ type: 'json', default: '[]' }) lostColumns: LostColumnEntry[] = [];
  /** Widths, what is frozen, the pinned totals. */
  @Property({ type: 'json', default: '{}' }) look: SheetLook = {};
  /** When it went to the bin; milliseconds since 1970 UTC. */
  @Property({ type: 'integer', nullable: true }) removedAt: number | null = null;
}

/** A deleted column, and the column it stood after. */
export interface LostColumnEntry {
  readonly column: StoredColumn;
  readonly after: string | null;
}

@Entity({ tableName: 'form' })
export class Form {
  @PrimaryKey({ type: 'text' }) id!: string;
  @ManyToOne(() => Sheet, { deleteRule: 'cascade' }) sheet!: Sheet;
  @Property({ type: 'text' }) name!: string;
  @Property({ type: 'integer' }) place!: number;
  /** What is in use; empty while the form was never put to use. */
  @Property({ type: 'json' }) definition!: StoredDefinition;
  @Property({ type: 'integer' }) revision!: number;
  /** Which version is in use; 0 for none. */
  @Property({ type: 'integer', default: 0 }) version = 0;
  /** What is laid out and not put to use yet. */
  @Property({ type: 'json', nullable: true }) draft: StoredDraft | null = null;
  /** Rises with each change of the draft. */
  @Property({ type: 'integer', default: 0 }) draftRevision = 0;
  /** When it went to the bin, in milliseconds since 1970 UTC. */
  @Property({ type: 'integer', nullable: true }) removedAt: number | null = null;
}

/** A form as it was put to use. */
@Entity({ tableName: 'form_version' })
export class FormVersion {
  @ManyToOne(() => Form, { primary: true, deleteRule: 'cascade' }) form!: Form;
  @PrimaryKey({ type: 'integer' }) version!: number;
  @Property({ type: 'json' }) definition!: StoredDefinition;
  @ManyToOne(() => Account, { nullable: true, index: false }) account: Account | null = null;
  /** Milliseconds since 1970 UTC. */
  @Property({ type: 'integer' }) at!: number;
}

/** A file that came through a form, or is shown on one. Its bytes stand in the data folder. */
@Entity({ tableName: 'stored_file' })
export class StoredFile {
  @PrimaryKey({ type: 'text' }) id!: string;
  @ManyToOne(() => Workbook, { deleteRule: 'cascade', index: false }) workbook!: Workbook;
  @ManyToOne(() => Account, { index: false }) account!: Account;
  @Property({ type: 'text' }) name!: string;
  /** What its bytes are, as they tell themselves. */
  @Property({ type: 'text' }) type!: string;
  @Property({ type: 'integer' }) bytes!: number;
  @Property({ type: 'integer' }) at!: number;
}

/** One record; its values as JSON by column id, blanks left out. */
@Entity({ tableName: 'record' })
@Index({ name: 'record_in_order', properties: ['sheet', 'orderKey'] })
@Index({
  name: 'record_in_bin',
  expression:
    'create index "record_in_bin" on "record" ("sheet_id", "removed_at") where "removed_at" is not null',
})
export class SheetRecord {
  @PrimaryKey({ type: 'text' }) id!: string;
  @ManyToOne(() => Sheet, { deleteRule: 'cascade', index: false }) sheet!: Sheet;
  @Property({ type: 'double' }) orderKey!: number;
  @Property({ type: 'integer' }) revision!: number;
  @Property({ type: 'json' }) cells!: Record<string, CellValue>;
  /** When it went to the bin; milliseconds since 1970 UTC. */
  @Property({ type: 'integer', nullable: true }) removedAt: number | null = null;
}

/** A row outside of the records; its cells as JSON by column id, blanks left out. */
@Entity({ tableName: 'free_row' })
@Index({ name: 'free_row_in_order', properties: ['sheet', 'orderKey'] })
export class FreeRowEntity {
  @PrimaryKey({ type: 'text' }) id!: string;
  @ManyToOne(() => Sheet, { deleteRule: 'cascade', index: false }) sheet!: Sheet;
  @Property({ type: 'double' }) orderKey!: number;
  @Property({ type: 'integer' }) revision!: number;
  @Property({ type: 'json' }) cells!: StoredFreeCells;
  /** When it went to the bin; milliseconds since 1970 UTC. */
  @Property({ type: 'integer', nullable: true }) removedAt: number | null = null;
}

/**
 * Before and after of every write, and what it was answered. The id is the sequence number that
 * events resume from.
 */
@Entity({ tableName: 'change' })
@Index({ name: 'change_of_workbook', properties: ['workbook', 'id'] })
@Index({ name: 'change_of_account', properties: ['account', 'workbook', 'id'] })
@Index({ name: 'change_of_record', properties: ['recordId', 'id'] })
@Index({
  name: 'change_of_day',
  expression: `create index "change_of_day" on "change" ("sheet_id", "at", "account_id", "record_id") where "kind" = 'recordAdded'`,
})
@Index({
  name: 'change_that_undoes',
  expression:
    'create index "change_that_undoes" on "change" ("undoes", "id") where "undoes" is not null',
})
export class Change {
  @PrimaryKey({ type: 'integer', autoincrement: true }) id!: number;
  @ManyToOne(() => Workbook, { deleteRule: 'cascade', index: false }) workbook!: Workbook;
  @Property({ type: 'text' }) kind!: ChangeKind;
  @Property({ type: 'text' }) sheetId!: string;
  @Property({ type: 'text', nullable: true }) recordId: string | null = null;
  /** The record's revision after the write. */
  @Property({ type: 'integer', nullable: true }) revision: number | null = null;
  /** Made by the client. A repeat finds the change by it and gets the first answer again. */
  @Property({ type: 'text' }) @Unique({ name: 'change_of_write' }) writeId!: string;
  /** Of what was asked, and by whom: another request under the same write id is refused. */
  @Property({ type: 'text' }) digest!: string;
  @ManyToOne(() => Account, { index: false }) account!: Account;
  /** Which form (its id), grid, file or undo it came through. */
  @Property({ type: 'text' }) door!: string;
  @Property({ type: 'integer' }) at!: number;
  @Property({ type: 'json', nullable: true }) before: object | null = null;
  @Property({ type: 'json', nullable: true }) after: object | null = null;
  /** The grid's row the record had or got, and how many records there were before. */
  @Property({ type: 'integer', nullable: true }) gridRow: number | null = null;
  @Property({ type: 'integer', nullable: true }) counted: number | null = null;
  /** The write id of the write this is a line of: a write of many rows has a line for each. */
  @Property({ type: 'text', nullable: true }) @Index({ name: 'change_of_batch' }) batch:
    string | null = null;
  /** The write that is taken back by this one. */
  @Property({ type: 'text', nullable: true }) undoes: string | null = null;
  /** What was answered to a change of structure. */
  @Property({ type: 'json', nullable: true }) answer: unknown = null;
}

/** A question kept under a name, for one person or for everyone in the workbook. */
@Entity({ tableName: 'question' })
@Index({ name: 'question_of_workbook', properties: ['workbook'] })
export class KeptQuestion {
  /** Made by the client, so that it is kept once. */
  @PrimaryKey({ type: 'text' }) id!: string;
  @ManyToOne(() => Workbook, { deleteRule: 'cascade', index: false }) workbook!: Workbook;
  @ManyToOne(() => Form, { deleteRule: 'cascade', index: false }) form!: Form;
  /** Who keeps it. */
  @ManyToOne(() => Account, { deleteRule: 'cascade', index: false }) account!: Account;
  @Property({ type: 'text' }) name!: string;
  /** As the query of an address. */
  @Property({ type: 'text' }) address!: string;
  @Property({ type: 'boolean' }) isShared!: boolean;
}

/** The highest running number a column ever gave. */
@Entity({ tableName: 'running_number' })
export class RunningNumber {
  @PrimaryKey({ type: 'text' }) columnId!: string;
  @Property({ type: 'integer' }) last!: number;
}

/** A file that waits to be looked at and brought in. */
@Entity({ tableName: 'upload' })
export class Upload {
  @PrimaryKey({ type: 'text' }) id!: string;
  @ManyToOne(() => Account, { deleteRule: 'cascade' }) account!: Account;
  @Property({ type: 'text' }) fileName!: string;
  @Property({ type: 'integer' }) bytes!: number;
  @Property({ type: 'integer' }) at!: number;
}

/** A notice that would be mailed: the outbox keeps it. */
@Entity({ tableName: 'notice' })
@Index({ name: 'notice_of_person', properties: ['workbook', 'account', 'at'] })
export class Notice {
  @PrimaryKey({ type: 'text' }) id!: string;
  @ManyToOne(() => Workbook, { deleteRule: 'cascade', index: false }) workbook!: Workbook;
  /** Whom it is for. */
  @ManyToOne(() => Account, { deleteRule: 'cascade', index: false }) account!: Account;
  /** Milliseconds since 1970 UTC. */
  @Property({ type: 'integer' }) at!: number;
  @Property({ type: 'text' }) subject!: string;
  @Property({ type: 'text' }) text!: string;
  /** Where what it is about stands, in the application. */
  @Property({ type: 'text', nullable: true }) link: string | null = null;
  /** What it is about, so that one thing is told of once while it lasts. */
  @Property({ type: 'text' }) about!: string;
  /** Whether what it tells of is over. */
  @Property({ type: 'boolean', default: false }) isOver = false;
  @Property({ type: 'integer', nullable: true }) readAt: number | null = null;
}

/** A word that admits, kept under a name of its workbook: only what tells whether a text is it. */
@Entity({ tableName: 'secret_word' })
export class SecretWord {
  @ManyToOne(() => Workbook, { primary: true, deleteRule: 'cascade', index: false })
  workbook!: Workbook;
  @PrimaryKey({ type: 'text' }) name!: string;
  /** Blank beside an argon2id hash in the PHC string format; earlier versions kept base64 of both. */
  @Property({ type: 'text' }) salt!: string;
  @Property({ type: 'text' }) digest!: string;
}

export const ENTITIES = [
  Account,
  Session,
  Workbook,
  Membership,
  Sheet,
  Form,
  FormVersion,
  StoredFile,
  SheetRecord,
  FreeRowEntity,
  Change,
  RunningNumber,
  Upload,
  KeptQuestion,
  Notice,
  SecretWord,
];
