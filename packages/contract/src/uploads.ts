import {
  KIND_IDS,
  STRICTNESSES,
  type DateOrder,
  type FoundHeading,
  type KindId,
  type Strictness,
} from '@varn/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  ArrayMinSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsOptional,
  IsString,
  IsUUID,
  Matches,
  MaxLength,
  ValidateNested,
} from 'class-validator';
import { IsCount, IsLocaleTag, IsName, MOST_COLUMNS } from './decorators';

export const ENCODINGS = ['utf-8', 'utf-16le', 'utf-16be', 'windows-1252'] as const;
export type Encoding = (typeof ENCODINGS)[number];

export const DELIMITERS = [',', ';', '\t', '|'] as const;
export type Delimiter = (typeof DELIMITERS)[number];

/** How a file is read; what is absent is guessed. */
export class ReadingChoices {
  @IsOptional() @IsIn(ENCODINGS) encoding?: Encoding;
  @IsOptional() @IsIn(DELIMITERS) delimiter?: Delimiter;
  /** The heading's row, from 1; 0 when the file has none. */
  @IsOptional() @IsCount(0, 200) headingRow?: number;
  @IsOptional() @IsIn([1, 2]) headingRows?: 1 | 2;
  @IsOptional() @IsBoolean() keepTotals?: boolean;
  @IsOptional() @IsBoolean() guarded?: boolean;
  /** The workbook whose locale reads it, when it goes into one. */
  @IsOptional() @IsString() @MaxLength(64) workbookId?: string;
  /** The locale of the workbook that would be made (BCP 47). */
  @IsOptional() @IsLocaleTag() locale?: string;
}

export class ArrivingColumnView {
  @IsCount(0, 16_383) index!: number;
  @IsName('The heading') heading!: string;
  @IsIn(KIND_IDS) kind!: KindId;
  @IsIn(['.', ',']) decimal!: '.' | ',';
  @IsIn(['dmy', 'mdy', 'ymd']) dateOrder!: DateOrder;
  /** With how many decimals all its numbers are written, so that they align. */
  @IsOptional() @IsCount(0, 10) decimals?: number;
}

export class PreviewColumnView extends ArrivingColumnView {
  @IsString() letters!: string;
  @IsIn(['given', 'blank', 'alike']) origin!: FoundHeading['origin'];
  @IsBoolean() empty!: boolean;
  @IsBoolean() ambiguousDates!: boolean;
}

export class UploadView {
  @IsString() id!: string;
  @IsString() fileName!: string;
  @IsInt() bytes!: number;
  @IsIn(ENCODINGS) encoding!: Encoding;
  @IsIn(DELIMITERS) delimiter!: Delimiter;
  @IsInt() headingRow!: number;
  @IsIn([1, 2]) headingRows!: 1 | 2;
  @IsBoolean() keepTotals!: boolean;
  @IsBoolean() guarded!: boolean;
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => PreviewColumnView)
  columns!: PreviewColumnView[];
  @IsArray() rows!: string[][];
  /** Rows further down: those left out, of another length, and the last ones. */
  @IsArray() later!: { row: number; cells: string[] }[];
  /** Values that stand twice where nearly all are different. */
  @IsArray() doubles!: { index: number; values: string[] }[];
  /** Rows of the file, whatever becomes of them. */
  @IsInt() fileRows!: number;
  @IsInt() records!: number;
  @IsArray() blankRows!: number[];
  @IsArray() totalsRows!: number[];
  @IsInt() shortRows!: number;
  @IsInt() longRows!: number;
}

/** Rows of a file one wants to look at. */
export class LookAtRows {
  @IsIn(ENCODINGS) encoding!: Encoding;
  @IsIn(DELIMITERS) delimiter!: Delimiter;
  /** The first row, from 1. */
  @IsCount(1, 10_000_000) from!: number;
  @IsCount(1, 500) count!: number;
}

export class FileRowsView {
  /** Each with its cells as they stand in the file, cut where they are long. */
  @IsArray() rows!: string[][];
}

export class UploadQuery {
  @IsName('The file name') name!: string;
  @IsOptional() @IsString() @MaxLength(64) workbookId?: string;
  @IsOptional() @IsLocaleTag() locale?: string;
}

/** How a file was looked at and corrected. */
export class FileReading {
  @IsIn(ENCODINGS) encoding!: Encoding;
  @IsIn(DELIMITERS) delimiter!: Delimiter;
  @IsCount(0, 200) headingRow!: number;
  @IsIn([1, 2]) headingRows!: 1 | 2;
  @IsBoolean() keepTotals!: boolean;
  @IsBoolean() guarded!: boolean;
}

/** Makes a sheet of an uploaded file. */
export class BringIn extends FileReading {
  /** Rows of the file that are left out, from 1. */
  @IsOptional() @IsInt({ each: true }) @ArrayMaxSize(10_000) without?: number[];
  @IsUUID() writeId!: string;
  /** The workbook the sheet goes into; a new one is made when absent. */
  @IsOptional() @IsString() @MaxLength(64) workbookId?: string;
  @IsOptional() @IsName('The name of the workbook') workbookName?: string;
  @IsOptional() @IsLocaleTag() locale?: string;
  @IsOptional() @IsString() @MaxLength(64) timeZone?: string;
  /** ISO 4217, of money columns that name none. */
  @IsOptional() @Matches(/^[A-Z]{3}$/) currency?: string;
  @IsName('The name of the sheet') sheetName!: string;
  @IsArray()
  @ArrayMinSize(1, { message: 'Choose at least one column' })
  @ArrayMaxSize(MOST_COLUMNS, { message: 'A sheet holds 1,000 columns at most; leave some out' })
  @ValidateNested({ each: true })
  @Type(() => ArrivingColumnView)
  columns!: ArrivingColumnView[];
}

/** A column of the file that goes into a column of a sheet. */
export class PairedColumn {
  @IsCount(0, 16_383) index!: number;
  @IsString() @MaxLength(64) columnId!: string;
  @IsIn(['.', ',']) decimal!: '.' | ',';
  @IsIn(['dmy', 'mdy', 'ymd']) dateOrder!: DateOrder;
}

/** Rows of an uploaded file that are to be added to a sheet there is, its columns paired. */
export class RowsOfFile extends FileReading {
  /** Rows of the file that are left out, from 1. */
  @IsOptional() @IsInt({ each: true }) @ArrayMaxSize(10_000) without?: number[];
  @IsString() @MaxLength(64) sheetId!: string;
  @IsArray()
  @ArrayMinSize(1, { message: 'Pair at least one column' })
  @ArrayMaxSize(MOST_COLUMNS)
  @ValidateNested({ each: true })
  @Type(() => PairedColumn)
  columns!: PairedColumn[];
  /** Whether rows are taken too that are only asked about. */
  @IsOptional() @IsBoolean() takesAsked?: boolean;
}

export class AddRows extends RowsOfFile {
  @IsUUID() writeId!: string;
}

/** A value of a row that is not taken as it is, and why. */
export class HeldRowView {
  /** The file's row, from 1, as the file shows it. */
  @IsInt() row!: number;
  @IsString() heading!: string;
  @IsString() text!: string;
  @IsString() message!: string;
  @IsIn(STRICTNESSES) strictness!: Strictness;
}

/** What adding rows would come to: nothing is stored. */
export class RowsChecked {
  @IsInt() records!: number;
  @IsInt() passing!: number;
  @IsInt() asked!: number;
  @IsInt() refused!: number;
  /** The first values that are asked about or refused. */
  @IsArray() @ValidateNested({ each: true }) @Type(() => HeldRowView) held!: HeldRowView[];
}

export class RowsAdded {
  @IsInt() added!: number;
  /** Rows that were left out. */
  @IsInt() left!: number;
}

export class BroughtIn {
  @IsString() workbookId!: string;
  @IsString() sheetId!: string;
  @IsInt() records!: number;
  @IsInt() blankRows!: number;
  @IsInt() totalsRows!: number;
  /** Values that could not be read as their column's kind: kept as text and marked. */
  @IsInt() keptAsText!: number;
}
