import type { FormDefinition } from '@varn/core';
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
} from 'class-validator';
import { IsName, IsTextMap, MOST_COLUMNS } from './decorators';
import { CellRefusal } from './grid';
import { RowsView, SheetView } from './sheets';

export class MakeForm {
  @IsUUID() writeId!: string;
  /** Without a name the form bears its sheet's. */
  @IsOptional() @IsName('The name of the form') name?: string;
}

export class RenameForm {
  @IsName('The name of the form') name!: string;
  @IsInt() revision!: number;
}

/** All the desk needs to fill a form in and show where it will land. */
export class FormView {
  @IsString() id!: string;
  @IsString() name!: string;
  @IsInt() revision!: number;
  @IsObject() definition!: FormDefinition;
  @ValidateNested() @Type(() => SheetView) sheet!: SheetView;
  /** 95th percentile of the lengths stored, by column id. */
  @IsObject() lengths!: Record<string, number>;
  /** The running number each column would give next, by column id. */
  @IsObject() nextNumbers!: Record<string, number>;
  /** The last records of the sheet. */
  @ValidateNested() @Type(() => RowsView) last!: RowsView;
  /** The server's now, in milliseconds since 1970 UTC. */
  @IsNumber() now!: number;
  @IsString() locale!: string;
  @IsString() timeZone!: string;
  /** The sequence number of the last change this view knows of. */
  @IsInt() seq!: number;
}

/** A filled form. The client makes the write id; sent again, it is not written again. */
export class Submit {
  @IsUUID() writeId!: string;
  /** Typed texts by field id. */
  @IsTextMap() answers!: Record<string, string>;
  /** Fields whose answers are meant, although they were asked about. */
  @IsOptional() @IsString({ each: true }) @ArrayMaxSize(MOST_COLUMNS) meant?: string[];
}

export class VerdictView {
  @IsString() fieldId!: string;
  @IsString() columnId!: string;
  @IsString() code!: string;
  /** What is wrong and what to do. */
  @IsString() message!: string;
  /** It is only asked about: sent again as meant, it is written. */
  @IsOptional() @IsBoolean() ask?: boolean;
}

/** What a check of a filled form, not written, gives. */
export class CheckView {
  @IsArray() @ValidateNested({ each: true }) @Type(() => VerdictView) verdicts!: VerdictView[];
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
