import { KIND_IDS, type CellValue, type ColumnSettings, type KindId } from '@varn/core';
import { Type } from 'class-transformer';
import {
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  ValidateNested,
} from 'class-validator';
import { IsCount, IsName, IsTextMap, MOST_COLUMNS } from './decorators';
import { ROLES, type Role } from './roles';

export class FormEntry {
  @IsString() id!: string;
  @IsString() name!: string;
}

export class SheetEntry {
  @IsString() id!: string;
  @IsString() name!: string;
  @IsInt() records!: number;
  @IsArray() @ValidateNested({ each: true }) @Type(() => FormEntry) forms!: FormEntry[];
}

export class WorkbookEntry {
  @IsString() id!: string;
  @IsString() name!: string;
  @IsIn(ROLES) role!: Role;
  @IsInt() sheets!: number;
  @IsInt() forms!: number;
  @IsInt() records!: number;
}

export class WorkbookView {
  @IsString() id!: string;
  @IsString() name!: string;
  /** BCP 47: how numbers and dates are read and shown. */
  @IsString() locale!: string;
  /** IANA: whose today and now hold. */
  @IsString() timeZone!: string;
  @IsIn(ROLES) role!: Role;
  /** The sequence number of the last change this view knows of. */
  @IsInt() seq!: number;
  @IsArray() @ValidateNested({ each: true }) @Type(() => SheetEntry) sheets!: SheetEntry[];
}

export class ColumnView {
  @IsString() id!: string;
  @IsString() heading!: string;
  @IsIn(KIND_IDS) kind!: KindId;
  @IsObject() settings!: ColumnSettings;
}

export class SheetView {
  @IsString() id!: string;
  @IsString() workbookId!: string;
  @IsString() name!: string;
  /** Rises with each change of the sheet's columns. */
  @IsInt() revision!: number;
  /** The grid's row of the heading, from 1. */
  @IsInt() headingRow!: number;
  /** The rows above the heading, cell by cell. */
  @IsArray() topMatter!: (string | null)[][];
  @IsArray() @ValidateNested({ each: true }) @Type(() => ColumnView) columns!: ColumnView[];
  @IsInt() count!: number;
  @IsArray() @ValidateNested({ each: true }) @Type(() => FormEntry) forms!: FormEntry[];
}

export class RecordView {
  @IsString() id!: string;
  @IsInt() revision!: number;
  /** Values in the order of the sheet's columns; dates and times as ISO 8601. */
  @IsArray() cells!: CellValue[];
}

export class RowsView {
  /** Position of the first record, from 0. */
  @IsInt() from!: number;
  @IsInt() count!: number;
  @IsArray() @ValidateNested({ each: true }) @Type(() => RecordView) records!: RecordView[];
}

/** The most records one request can ask for. */
export const MOST_ROWS = 1000;

export class RowsQuery {
  @Type(() => Number) @IsCount() from!: number;
  @Type(() => Number) @IsCount(1, MOST_ROWS) count!: number;
}

export class CsvQuery {
  /** `off` leaves formula-like texts unguarded. */
  @IsOptional() @IsIn(['on', 'off']) guard?: 'on' | 'off';
}

export class AddColumn {
  @IsName('The heading') heading!: string;
  @IsIn(KIND_IDS) kind!: KindId;
  @IsOptional() @IsObject() settings?: ColumnSettings;
  /** Its place among the columns, from 0; at the end when absent. */
  @IsOptional() @IsCount(0, MOST_COLUMNS) place?: number;
  /** The sheet's revision this is based on. */
  @IsInt() revision!: number;
}

export class ArrangeColumn {
  @IsOptional() @IsName('The heading') heading?: string;
  @IsOptional() @IsCount(0, MOST_COLUMNS) place?: number;
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
}

/** Where a write landed. A repeat of the same write gets the first answer again. */
export class Landed {
  @IsString() writeId!: string;
  /** Sequence number of the change. */
  @IsInt() seq!: number;
  @IsIn(['recordAdded', 'recordChanged', 'recordRemoved', 'recordPutBack']) kind!: RecordChangeKind;
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
}

export type RecordChangeKind = 'recordAdded' | 'recordChanged' | 'recordRemoved' | 'recordPutBack';
export type StructureChangeKind = 'sheetAdded' | 'columnsChanged' | 'formAdded' | 'formChanged';

/** What everyone who looks at a workbook is told of a change. */
export class ChangeEvent {
  /** Sequence number: also the event's id, after which a stream resumes. */
  @IsInt() seq!: number;
  @IsString() kind!: RecordChangeKind | StructureChangeKind;
  @IsString() sheetId!: string;
  @IsString() writeId!: string;
  @IsString() by!: string;
  /** For changes of a record. */
  @IsOptional() @ValidateNested() @Type(() => Landed) landed?: Landed;
}

export class Health {
  @IsIn(['ok']) status!: 'ok';
  @IsString() version!: string;
  @IsBoolean() demo!: boolean;
}
