import { type CellValue, type FormDefinition, STRICTNESSES, type Strictness } from '@varn/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  ValidateNested,
  IsIn,
} from 'class-validator';
import { IsCount, IsName, IsTextMap, MOST_COLUMNS } from './decorators';
import { ArePlannedColumns, IsDefinition } from './definition';
import { CellRefusal } from './grid';
import { flag, list, parts, Shaped, string, textMap, uuid, whole } from './shape';
import { ColumnView, RowsView, SheetView } from './sheets';

/** One click: a form of every column of a sheet, in use at once. */
export class MakeForm {
  @IsUUID() writeId!: string;
  /** Without a name the form bears its sheet's. */
  @IsOptional() @IsName('The name of the form') name?: string;
}

/** A form to be laid out: from nothing, or like another. */
export class BeginForm {
  @IsUUID() writeId!: string;
  @IsName('The name of the form') name!: string;
  /** The sheet it writes into; a new one of its name where absent. */
  @IsOptional() @IsString() sheetId?: string;
  /** Another form of this sheet that it starts as. */
  @IsOptional() @IsString() like?: string;
}

export class RenameForm {
  @IsName('The name of the form') name!: string;
  @IsInt() revision!: number;
}

/** Takes a form out of the bin. */
export class PutBackForm {
  @IsUUID() writeId!: string;
}

/** All the desk needs to fill a form in and show where it will land. */
export class FormView {
  @IsString() id!: string;
  @IsString() name!: string;
  @IsInt() revision!: number;
  /** Which version this is; 0 while the form was never put to use. */
  @IsInt() version!: number;
  @IsObject() definition!: FormDefinition;
  @ValidateNested() @Type(() => SheetView) sheet!: SheetView;
  /** 95th percentile of the lengths stored, by column id. */
  @IsObject() lengths!: Record<string, number>;
  /** The running number each column would give next, by column id. */
  @IsObject() nextNumbers!: Record<string, number>;
  /** What stands in fields that start with the next number, by column id. */
  @IsObject() nextTexts!: Record<string, string>;
  /** What columns hold already, the most used first, by the id of columns that suggest it. */
  @IsObject() suggestions!: Record<string, string[]>;
  /** The last records of the sheet. */
  @ValidateNested() @Type(() => RowsView) last!: RowsView;
  /** The server's now, in milliseconds since 1970 UTC. */
  @IsNumber() now!: number;
  @IsString() locale!: string;
  @IsString() timeZone!: string;
  /** The sequence number of the last change this view knows of. */
  @IsInt() seq!: number;
}

export class VersionView {
  @IsInt() version!: number;
  @IsString() by!: string;
  /** When it was put to use, in milliseconds since 1970 UTC. */
  @IsNumber() at!: number;
  @IsInt() fields!: number;
}

/** A form as it is laid out, before it is put to use. */
export class DraftView {
  /** The form as its users would see it. Its sheet has the planned columns. */
  @ValidateNested() @Type(() => FormView) form!: FormView;
  /** Columns that come with the form, or change with it. */
  @IsArray() @ValidateNested({ each: true }) @Type(() => ColumnView) columns!: ColumnView[];
  /** The columns that are in the sheet. */
  @IsArray() @ValidateNested({ each: true }) @Type(() => ColumnView) stored!: ColumnView[];
  /** Rises with each change of the draft. */
  @IsInt() revision!: number;
  /** Whether it is otherwise than what is in use. */
  @IsBoolean() changed!: boolean;
  @IsArray() @ValidateNested({ each: true }) @Type(() => VersionView) versions!: VersionView[];
  /** Columns that other forms of the sheet write, by column id: the names of those forms. */
  @IsObject() writtenBy!: Record<string, string[]>;
  /** What formulas can call: the named ranges of the workbook, and its sheets. */
  @IsString({ each: true }) names!: string[];
  @IsString({ each: true }) sheets!: string[];
  /** How many trial records wait in the sheet. */
  @IsInt() trials!: number;
}

/** Keeps a form as it was laid out so far. */
export class SaveDraft {
  @IsDefinition() definition!: FormDefinition;
  @ArePlannedColumns() columns!: ColumnView[];
  /** The revision of the draft this is based on. */
  @IsInt() revision!: number;
}

export class DraftSaved {
  @IsInt() revision!: number;
}

export class DraftRevision {
  @IsInt() revision!: number;
}

/** Puts a form to use as it was laid out. */
export class PutToUse {
  @IsUUID() writeId!: string;
  @IsInt() revision!: number;
}

/** What a form is filled in with. */
class FilledForm {
  /** Texts by field id: what was typed, and what stood in fields that nobody touched. */
  @IsTextMap() answers!: Record<string, string>;
  /** Fields whose starting value was left as it stood: it is computed anew from the answers. */
  @IsOptional() @IsString({ each: true }) @ArrayMaxSize(MOST_COLUMNS) untouched?: string[];
  /** Fields whose answers are meant, although they were asked about. */
  @IsOptional() @IsString({ each: true }) @ArrayMaxSize(MOST_COLUMNS) meant?: string[];
}

const ids = list(string, MOST_COLUMNS);
const filled = {
  answers: textMap,
  'untouched?': ids,
  'meant?': ids,
  'pressedAt?': whole(0),
  'version?': whole(),
};

/** A filled form. The client makes the write id; sent again, it is not written again. */
@Shaped(parts({ ...filled, writeId: uuid }))
export class Submit extends FilledForm {
  @IsUUID() writeId!: string;
  /**
   * When Submit was pressed, in milliseconds since 1970 UTC: what *today* and *now* are, however
   * long it is under way. Absent, when it arrives.
   */
  @IsOptional() @IsCount() pressedAt?: number;
  /** The version of the form that was filled in; absent, the one in use. */
  @IsOptional() @IsInt() version?: number;
}

/** A filled form to be looked through without writing it. */
@Shaped(parts({ ...filled, 'draft?': flag, 'words?': flag, 'recordId?': string, 'writeId?': uuid }))
export class CheckAnswers extends FilledForm {
  /** Whether it is the draft that is filled in, or what is in use. */
  @IsOptional() @IsBoolean() draft?: boolean;
  /** Whether secret words are tried as well; wrong ones are counted. */
  @IsOptional() @IsBoolean() words?: boolean;
  /** The record that is corrected: what the form does not write stays of it. */
  @IsOptional() @IsString() recordId?: string;
  /** Absent in requests; a submit that is checked names itself. */
  @IsOptional() @IsUUID() writeId?: string;
  @IsOptional() @IsCount() pressedAt?: number;
  @IsOptional() @IsInt() version?: number;
}

/** Corrects a record through a form. */
@Shaped(parts({ ...filled, writeId: uuid, revision: whole() }))
export class UpdateRecord extends Submit {
  /** The revision of the record that was looked at. */
  @IsInt() revision!: number;
}

/** Removes the trial records of a sheet, all at once. */
export class RemoveTrials {
  @IsUUID() writeId!: string;
}

export class VerdictView {
  @IsString() fieldId!: string;
  @IsString() columnId!: string;
  @IsString() code!: string;
  /** What is wrong and what to do. */
  @IsString() message!: string;
  /** It is only asked about: sent again as meant, it is written. */
  @IsIn(STRICTNESSES) strictness!: Strictness;
  /** The grid's row of the record that stands in the way. */
  @IsOptional() @IsInt() row?: number;
}

/** What a check of a filled form, not written, gives. */
export class CheckView {
  @IsArray() @ValidateNested({ each: true }) @Type(() => VerdictView) verdicts!: VerdictView[];
  /** What formulas of the form that read other cells give, by formula. */
  @IsObject() values!: Record<string, CellValue>;
  /** The record they were computed of, by column id. */
  @IsObject() cells!: Record<string, CellValue>;
}

/** Every refusal: what, where, and what to do. */
export class Refusal {
  @IsInt() statusCode!: number;
  /** A word a program can act on. */
  @IsString() code!: string;
  @IsString() message!: string;
  /** The fields of the request that are not right (400). */
  @IsOptional() @IsArray() fields?: { path: string; message: string }[];
  /** One verdict per column (422). */
  @IsOptional()
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => VerdictView)
  verdicts?: VerdictView[];
  /** One refusal per cell of a write in the grid (422). */
  @IsOptional()
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => CellRefusal)
  cells?: CellRefusal[];
  /** What one wrote, and what stands there now (409). */
  @IsOptional() @IsObject() both?: { yours: object | null; now: object | null };
}
