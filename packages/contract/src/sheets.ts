import {
  KIND_IDS,
  RECORD_CHANGES,
  type CellValue,
  type ChangeKind,
  type Column,
  type ColumnSettings,
  type GivenSettings,
  type KindId,
  type RecordChangeKind,
} from '@varn/core';
import { Type } from 'class-transformer';
import {
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  IsTimeZone,
  IsUUID,
  Matches,
  MaxLength,
  ValidateNested,
} from 'class-validator';
import { IsCount, IsLocaleTag, IsName, IsSettings, IsTextMap, MOST_COLUMNS } from './decorators';
import { LONGEST_CELL } from './limits';
import { SheetLook } from './look';
import { ROLES, type Role } from './roles';

export class FormEntry {
  @IsString() id!: string;
  @IsString() name!: string;
  /** Which version of it is in use; 0 while it was never put to use. */
  @IsInt() version!: number;
  /** Whether it was changed and not put to use since. */
  @IsOptional() @IsBoolean() hasDraft?: boolean;
}

/** A question that is kept under a name, to be asked at the desk of a form. */
export class QuestionEntry {
  @IsString() id!: string;
  @IsString() formId!: string;
  @IsString() name!: string;
  /** As the query of an address. */
  @IsString() address!: string;
  /** Whether everyone in the workbook has it. */
  @IsBoolean() isShared!: boolean;
  /** Whether one may rename or delete it. */
  @IsBoolean() mayChange!: boolean;
}

export class SheetEntry {
  @IsString() id!: string;
  @IsString() name!: string;
  /** Whether it has a record block. */
  @IsBoolean() hasRecords!: boolean;
  @IsInt() records!: number;
  /** Whether lists are fed by it. */
  @IsOptional() @IsBoolean() feeds?: boolean;
  @IsArray() @ValidateNested({ each: true }) @Type(() => FormEntry) forms!: FormEntry[];
}

/** When something was written last, and by whom. */
export class LastWritten {
  /** Milliseconds since 1970 UTC. */
  @IsInt() at!: number;
  @IsString() by!: string;
}

export class WorkbookEntry {
  @IsString() id!: string;
  @IsString() name!: string;
  @IsIn(ROLES) role!: Role;
  @IsInt() sheets!: number;
  @IsInt() forms!: number;
  @IsInt() records!: number;
  @IsOptional() @ValidateNested() @Type(() => LastWritten) last?: LastWritten;
}

/** A place of a workbook one has a part in, to be found by any of its words. */
export class PlaceEntry {
  @IsIn(['workbook', 'sheet', 'form', 'column', 'name']) is!:
    'workbook' | 'sheet' | 'form' | 'column' | 'name';
  @IsString() workbookId!: string;
  @IsString() workbook!: string;
  /** Of all but a workbook: its sheet. */
  @IsOptional() @IsString() sheetId?: string;
  @IsOptional() @IsString() sheet?: string;
  /** What it is called. */
  @IsString() label!: string;
  /** Of a form or a column. */
  @IsOptional() @IsString() id?: string;
}

/** What a workbook is called, and how it reads and shows values: of a blank one, or changed. */
export class StartWorkbook {
  @IsUUID() writeId!: string;
  @IsName('The name of the workbook') name!: string;
  @IsLocaleTag() locale!: string;
  @IsTimeZone() timeZone!: string;
  /** ISO 4217, of money columns that name none. */
  @IsOptional() @Matches(/^[A-Z]{3}$/) currency?: string;
}

/** How things stand with a sheet. */
export class SheetOverview {
  @IsString() sheetId!: string;
  /** New records of today, in the workbook’s time zone. */
  @IsInt() today!: number;
  /** Of the record that was added last. */
  @IsOptional() @ValidateNested() @Type(() => LastWritten) last?: LastWritten;
}

/** How things stand in a workbook, sheet by sheet. */
export class OverviewView {
  @IsArray() @ValidateNested({ each: true }) @Type(() => SheetOverview) sheets!: SheetOverview[];
}

export class WorkbookView {
  @IsString() id!: string;
  @IsString() name!: string;
  /** BCP 47: how numbers and dates are read and shown. */
  @IsString() locale!: string;
  /** IANA: whose today and now hold. */
  @IsString() timeZone!: string;
  /** ISO 4217, of money columns that name none. */
  @IsString() currency!: string;
  @IsIn(ROLES) role!: Role;
  /** The sequence number of the last change this view knows of. */
  @IsInt() seq!: number;
  @IsArray() @ValidateNested({ each: true }) @Type(() => SheetEntry) sheets!: SheetEntry[];
  /** The questions one can ask by name: one's own, and those of the workbook. */
  @IsArray() @ValidateNested({ each: true }) @Type(() => QuestionEntry) questions!: QuestionEntry[];
  /** Forms that wait in the bin, for those who may put them back. */
  @IsArray() @ValidateNested({ each: true }) @Type(() => FormEntry) removedForms!: FormEntry[];
}

export class ColumnView implements Column<string> {
  @IsString() id!: string;
  @IsString() heading!: string;
  @IsIn(KIND_IDS) kind!: KindId;
  /** A formula among them is as people write it. */
  @IsObject() settings!: ColumnSettings<string>;
}

export class LostColumnView {
  @IsString() id!: string;
  @IsString() heading!: string;
}

export class SheetView {
  @IsString() id!: string;
  @IsString() workbookId!: string;
  @IsString() name!: string;
  /** Rises with each change of the sheet's columns and rows outside of its records. */
  @IsInt() revision!: number;
  /** The grid's row of the heading, from 1. */
  @IsInt() headingRow!: number;
  /** Whether it has a record block; else all of its rows are free. */
  @IsBoolean() hasRecords!: boolean;
  /** Ids of the columns without a heading, to the right of the others. */
  @IsString({ each: true }) looseColumns!: string[];
  @IsObject() look!: SheetLook;
  /** Columns that were deleted and can come back. */
  @IsArray() @ValidateNested({ each: true }) @Type(() => LostColumnView) lost!: LostColumnView[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => ColumnView) columns!: ColumnView[];
  @IsInt() count!: number;
  @IsArray() @ValidateNested({ each: true }) @Type(() => FormEntry) forms!: FormEntry[];
}

export class RecordView {
  @IsString() id!: string;
  @IsInt() revision!: number;
  /** Values in the order of the sheet's columns; dates and times as ISO 8601. */
  @IsArray() cells!: CellValue[];
  /** Whether it was written to try a form. */
  @IsOptional() @IsBoolean() trial?: boolean;
}

export class RowsView {
  /** Position of the first record, from 0. */
  @IsInt() from!: number;
  @IsInt() count!: number;
  @IsArray() @ValidateNested({ each: true }) @Type(() => RecordView) records!: RecordView[];
  /** Rows of the grid the records stand in, where a view of one's own has them in another order. */
  @IsOptional() @IsInt({ each: true }) gridRows?: number[];
  /** The pinned totals over these records, by column id. */
  @IsOptional() @IsObject() totals?: Record<string, CellValue>;
  /** Whether formulas are being computed: results stand as last known, and their event follows. */
  @IsOptional() @IsBoolean() computing?: boolean;
}

/** The most records one request can ask for; of a very wide sheet fewer are told at once. */
export const MOST_ROWS = 1000;

export class RowsQuery {
  @Type(() => Number) @IsCount() from!: number;
  @Type(() => Number) @IsCount(1, MOST_ROWS) count!: number;
  /** A question and an order of one's own, as JSON: `{"text", "filters": [{"columnId", "says"}],
   * "order": [{"columnId", "falling"}]}`: by the first column, then by the next. Nothing stored changes by it. */
  @IsOptional() @IsString() @MaxLength(10_000) view?: string;
}

export class RevisionQuery {
  /** The revision of the sheet, or of the draft, this is based on. */
  @Type(() => Number) @IsInt() revision!: number;
}

export class SheetRevision {
  /** The sheet's revision this is based on. */
  @IsInt() revision!: number;
}

export class CsvQuery {
  /** `off` leaves formula-like texts unguarded. */
  @IsOptional() @IsIn(['on', 'off']) guard?: 'on' | 'off';
  /** What stands between cells; a comma where it is left out. */
  @IsOptional() @IsIn(['comma', 'semicolon', 'tab']) separator?: 'comma' | 'semicolon' | 'tab';
  /** The sign before decimals; a point where it is left out. */
  @IsOptional() @IsIn(['point', 'comma']) decimals?: 'point' | 'comma';
  /** UTF-8 is marked with a byte order mark where a spreadsheet is to know it. */
  @IsOptional() @IsIn(['utf8', 'utf8Marked', 'utf16']) encoding?: 'utf8' | 'utf8Marked' | 'utf16';
  /** Whether the rows above the heading come with it. */
  @IsOptional() @IsIn(['on', 'off']) top?: 'on' | 'off';
  /** Only the records of a view, in its order. */
  @IsOptional() @IsString() @MaxLength(10_000) view?: string;
}

export class AddColumn {
  @IsName('The heading') heading!: string;
  @IsIn(KIND_IDS) kind!: KindId;
  @IsOptional() @IsSettings() settings?: GivenSettings;
  /** The formula of a computed column, with or without its sign `=`. */
  @IsOptional() @IsString() @MaxLength(LONGEST_CELL) formula?: string;
  @IsOptional() @IsBoolean() follows?: boolean;
  /** Its place among the columns, from 0; at the end when absent. */
  @IsOptional() @IsCount(0, MOST_COLUMNS) place?: number;
  /** The sheet's revision this is based on. */
  @IsInt() revision!: number;
}

/** Changes some cells of one record: typed texts by column id. */
export class ChangeRecord {
  @IsUUID() writeId!: string;
  /** The revision of the record that was looked at. */
  @IsInt() revision!: number;
  @IsTextMap() answers!: Record<string, string>;
}

/** Removes a record to the bin, or puts it back. */
export class MoveRecord {
  @IsUUID() writeId!: string;
  @IsInt() revision!: number;
}

export class Undo {
  @IsUUID() writeId!: string;
  /** The write that is taken back: one's own. */
  @IsUUID() undoes!: string;
  /** Whether it is taken back although others changed the same since. */
  @IsOptional() @IsBoolean() anyway?: boolean;
}

/** A value that was written, and that a form, a list or a rule would not take. */
export class CellNote {
  @IsString() column!: string;
  /** Why it would not; of a form, which. */
  @IsString() message!: string;
}

/** Where a write landed. A repeat of the same write gets the first answer again. */
export class Landed {
  @IsString() writeId!: string;
  /** Sequence number of the change. */
  @IsInt() seq!: number;
  @IsIn(RECORD_CHANGES) kind!: RecordChangeKind;
  @IsString() sheetId!: string;
  @IsString() recordId!: string;
  @IsInt() revision!: number;
  /** The grid's row, from 1; of a removed record, the row it had. */
  @IsInt() row!: number;
  /** Records in the sheet before and after. */
  @IsInt() before!: number;
  @IsInt() after!: number;
  /** Values by column id; dates and times as ISO 8601. */
  @IsObject() cells!: Record<string, CellValue>;
  /** Whether it was written to try a form. */
  @IsOptional() @IsBoolean() trial?: boolean;
  /** Columns whose values came out otherwise than they were seen when Submit was pressed. */
  @IsOptional() @IsString({ each: true }) became?: string[];
  /** What lists and rules say of a state that came back and was stored all the same. */
  @IsOptional() @IsArray() @ValidateNested({ each: true }) @Type(() => CellNote) notes?: CellNote[];
}

/** What everyone who looks at a workbook is told of a change. */
export class ChangeEvent {
  /** Sequence number: also the event's id, after which a stream resumes. */
  @IsInt() seq!: number;
  @IsString() kind!: ChangeKind;
  @IsString() sheetId!: string;
  @IsString() writeId!: string;
  @IsString() by!: string;
  /** Whose it is. */
  @IsString() personId!: string;
  /** For changes of a record. */
  @IsOptional() @ValidateNested() @Type(() => Landed) landed?: Landed;
}

/** What everyone who looks at a workbook is told when formulas gave other results. */
export class RecalculatedEvent {
  @IsIn(['recalculated']) kind!: 'recalculated';
  /** Sheets whose cells outside of the records show otherwise. */
  @IsString({ each: true }) free!: string[];
  /** Sheets whose records show otherwise. */
  @IsString({ each: true }) records!: string[];
}

export class Health {
  @IsIn(['ok']) status!: 'ok';
  @IsString() version!: string;
  @IsBoolean() demo!: boolean;
  /** How many requests wait for their turn. */
  @IsInt() waiting!: number;
  /** How long the oldest of them has waited, in milliseconds. */
  @IsInt() oldest!: number;
}
