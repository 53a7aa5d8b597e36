import type { CellValue, ChangeKind } from '@varn/core';
import { Type } from 'class-transformer';
import {
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  ValidateNested,
} from 'class-validator';
import { IsCount } from './decorators';

/** A cell before and after a change; `null` is blank. */
export class CellChangeView {
  @IsString() columnId!: string;
  @IsOptional() before!: CellValue;
  @IsOptional() after!: CellValue;
}

/** One thing that happened to a record. */
export class RecordHistoryEntry {
  @IsInt() seq!: number;
  @IsString() writeId!: string;
  @IsString() kind!: ChangeKind;
  /** When, in milliseconds since 1970 UTC. */
  @IsInt() at!: number;
  @IsString() by!: string;
  /** Through what: a form's name, `Grid`, `File` or `Undo`. */
  @IsString() door!: string;
  /** The record's revision after it. */
  @IsInt() revision!: number;
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => CellChangeView)
  changes!: CellChangeView[];
}

/** What happened to a record, the newest first. */
export class RecordHistoryView {
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => RecordHistoryEntry)
  entries!: RecordHistoryEntry[];
  /** Where older entries go on; absent after the oldest. */
  @IsOptional() @IsInt() next?: number;
}

export class BeforeQuery {
  /** Entries before this sequence number. */
  @IsOptional() @Type(() => Number) @IsCount() before?: number;
}

/** Puts a record back to what it was after an entry of its history. */
export class BringBackState {
  @IsUUID() writeId!: string;
  @IsInt() revision!: number;
  @IsInt() seq!: number;
}

/** A write, as the workbook's history tells it. */
export class HistoryEntry {
  @IsInt() seq!: number;
  @IsString() writeId!: string;
  @IsString() kind!: ChangeKind;
  @IsInt() at!: number;
  @IsString() by!: string;
  /** Whether it is one's own. */
  @IsBoolean() mine!: boolean;
  @IsString() door!: string;
  @IsString() sheetId!: string;
  @IsString() sheet!: string;
  /** `record changed`, `41 changes`. */
  @IsString() says!: string;
  /** The record it is about, where it is one that is there. */
  @IsOptional() @IsString() recordId?: string;
  /** The grid's row that record stands in now. */
  @IsOptional() @IsInt() row?: number;
  /** Whether it was taken back since. */
  @IsBoolean() takenBack!: boolean;
  /** Whether it can be taken back by whoever asks. */
  @IsBoolean() mayTakeBack!: boolean;
}

export class HistoryQuery extends BeforeQuery {
  @IsOptional() @IsString() @MaxLength(64) person?: string;
  @IsOptional() @IsString() @MaxLength(64) sheet?: string;
  /** A form's id, or one of core's other doors: `grid`, `file`, `matches`, `undo`… */
  @IsOptional() @IsString() @MaxLength(64) door?: string;
  /** From this moment on, in milliseconds since 1970 UTC, and up to another. */
  @IsOptional() @Type(() => Number) @IsInt() from?: number;
  @IsOptional() @Type(() => Number) @IsInt() to?: number;
}

export class PersonName {
  @IsString() id!: string;
  @IsString() name!: string;
}

/** Who did what in a workbook, the newest first. */
export class HistoryView {
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => HistoryEntry)
  entries!: HistoryEntry[];
  @IsOptional() @IsInt() next?: number;
  /** Whose writes can be asked for. */
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => PersonName)
  people!: PersonName[];
}

/** What can wait in the bin. */
export const BINNED = ['record', 'sheet', 'form', 'column'] as const;
export type Binned = (typeof BINNED)[number];

/** Something that waits in the bin. */
export class BinItem {
  @IsIn(BINNED) is!: Binned;
  @IsString() id!: string;
  @IsString() sheetId!: string;
  /** The name of its sheet. */
  @IsString() sheet!: string;
  /** What it is called: a name, a heading, a record's key or first cells. */
  @IsString() says!: string;
  /** Of a record or sheet: its revision, which putting it back names. */
  @IsOptional() @IsInt() revision?: number;
  /** When it was removed; absent where that is not known. */
  @IsOptional() @IsInt() at?: number;
  @IsOptional() @IsString() by?: string;
  /** Of a record: its cells as its sheet shows them, by heading. */
  @IsOptional() @IsArray() cells?: { heading: string; shown: string }[];
}

/** Deletes what waits in the bin for good. */
export class EmptyBin {
  @IsUUID() writeId!: string;
}

export class BinView {
  @IsArray() @ValidateNested({ each: true }) @Type(() => BinItem) items!: BinItem[];
  /** How many records wait; the newest are told. */
  @IsInt() records!: number;
}
