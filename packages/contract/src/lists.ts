import type { ChoiceValue, CellValue, ListSettings } from '@varn/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsDefined,
  IsIn,
  IsInt,
  IsNotEmpty,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  ValidateNested,
} from 'class-validator';
import { IsCount, IsListSettings } from './decorators';
import { ManyPreview } from './search';

/** The longest value that is renamed, and the most of them at a time. */
const LONGEST_VALUE = 1000;
const MOST_FOLDED = 20_000;

/** One of the choices a list offers. What it does not say is blank, or the value itself. */
export class ListItemView {
  /** What is stored: a text, a number or a yes/no. */
  @IsDefined() value!: ChoiceValue;
  /** The value as it is typed, where it is no text. */
  @IsOptional() @IsString() text?: string;
  @IsOptional() @IsString() label?: string;
  @IsOptional() @IsString() second?: string;
  @IsOptional() @IsString({ each: true }) by?: string[];
  @IsOptional() @IsArray() fills?: CellValue[];
  /** How much it is used among the rest: the more, the higher. */
  @IsOptional() @IsInt() use?: number;
}

/** What is offered in columns of one sheet that the same source feeds. */
export class ListView {
  @IsString({ each: true }) columnIds!: string[];
  /** Rises with each change of the list. */
  @IsInt() version!: number;
  @IsArray() @ValidateNested({ each: true }) @Type(() => ListItemView) items!: ListItemView[];
  /** Whether letter case and accents tell its items apart. */
  @IsOptional() @IsBoolean() exact?: boolean;
  /** Why nothing is offered, where the source is not there or gives an error. */
  @IsOptional() @IsString() problem?: string;
}

/** The lists that feed a sheet's columns. */
export class ListsView {
  @IsArray() @ValidateNested({ each: true }) @Type(() => ListView) lists!: ListView[];
}

/** At a place of a list so many items go, and these come. */
export class SpliceView {
  @IsInt() at!: number;
  @IsInt() remove!: number;
  @IsArray() @ValidateNested({ each: true }) @Type(() => ListItemView) items!: ListItemView[];
}

export class ListChangeView {
  @IsString({ each: true }) columnIds!: string[];
  /** The version it is a change of, and what it makes. */
  @IsInt() from!: number;
  @IsInt() version!: number;
  /** What changed, one after the other; absent where the list is to be read anew. */
  @IsOptional()
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => SpliceView)
  splices?: SpliceView[];
}

/** What everyone who looks at a workbook is told when lists offer something else. */
export class ListsEvent {
  @IsIn(['lists']) kind!: 'lists';
  @IsArray() @ValidateNested({ each: true }) @Type(() => ListChangeView) changes!: ListChangeView[];
}

/** How a list comes of its source. */
export class ListCountsView {
  @IsInt() items!: number;
  @IsInt() rows!: number;
  @IsInt() blanks!: number;
  @IsInt() doubles!: number;
  @IsInt() errors!: number;
  @IsInt() long!: number;
  @IsInt() over!: number;
}

/** Tries a list before a column has it. */
export class TryList {
  @IsListSettings() list!: ListSettings;
  /** The first items that are told; 200 when absent. */
  @IsOptional() @IsCount(0, 50_000) most?: number;
}

export class TriedListView {
  @IsArray() @ValidateNested({ each: true }) @Type(() => ListItemView) items!: ListItemView[];
  @ValidateNested() @Type(() => ListCountsView) counts!: ListCountsView;
  @IsOptional() @IsString() problem?: string;
  /** Which of the texts the problem is about. */
  @IsOptional() @IsString() of?: string;
}

/** A column that a list feeds, and the forms on which it is a field. */
export class ListUseView {
  @IsString() sheetId!: string;
  @IsString() sheet!: string;
  @IsString() columnId!: string;
  @IsString() heading!: string;
  @IsString({ each: true }) forms!: string[];
}

/** Something that is wrong with a list, or odd about it. */
export class ListTroubleView {
  @IsIn(['broken', 'empty', 'errors', 'unlisted', 'mixed', 'sameLabel', 'over', 'long'])
  code!: ListTrouble;
  @IsString() says!: string;
  /** A column that was deleted and can be put back. */
  @IsOptional() @IsString() lostSheetId?: string;
  @IsOptional() @IsString() lostColumnId?: string;
  /** The column it is about, of those the list feeds. */
  @IsOptional() @IsString() columnId?: string;
  /** A list that has not this trouble. */
  @IsOptional() @IsListSettings() proposed?: ListSettings;
}
export type ListTrouble =
  'broken' | 'empty' | 'errors' | 'unlisted' | 'mixed' | 'sameLabel' | 'over' | 'long';

/** A list as the Lists place shows it. */
export class ListEntry {
  /** The first of the columns it feeds tells it from others. */
  @IsString() id!: string;
  /** What feeds it, as people write it; of typed choices nothing. */
  @IsOptional() @IsString() source?: string;
  /** The sheet its source stands in. */
  @IsOptional() @IsString() sourceSheetId?: string;
  /** The column whose records feed it, if one does. */
  @IsOptional() @IsString() sourceColumnId?: string;
  @ValidateNested() @Type(() => ListCountsView) counts!: ListCountsView;
  @IsArray() @ValidateNested({ each: true }) @Type(() => ListUseView) uses!: ListUseView[];
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => ListTroubleView)
  troubles!: ListTroubleView[];
  /** The first items, to know it by. */
  @IsString({ each: true }) first!: string[];
  /** When its items were others last, as far as it is known; milliseconds since 1970 UTC. */
  @IsOptional() @IsInt() changedAt?: number;
}

/** A field of choices that nothing feeds, and the heading that is likely its own. */
export class UnfedFieldView {
  @IsString() sheetId!: string;
  @IsString() sheet!: string;
  @IsString() columnId!: string;
  @IsString() heading!: string;
  @IsOptional() @IsString() likely?: string;
  /** The choices under that heading, as a source. */
  @IsOptional() @IsString() source?: string;
}

/** What of a sheet of choices has no partner: headings that feed nothing, fields beside the fed. */
export class UnpairedView {
  @IsString() sheetId!: string;
  @IsString() sheet!: string;
  @IsString({ each: true }) headings!: string[];
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => UnfedFieldView)
  fields!: UnfedFieldView[];
}

/** An item of a list that was given another name in its source. */
export class RenamedItem {
  /** The column of records it stands in; absent for a cell outside of them. */
  @IsOptional() @IsString() columnId?: string;
  @IsString() @MaxLength(LONGEST_VALUE) before!: string;
  @IsString() @MaxLength(LONGEST_VALUE) after!: string;
}

/** The columns whose records may hold its name of before. */
export class RenamedItemView {
  @IsArray() @ValidateNested({ each: true }) @Type(() => ListUseView) uses!: ListUseView[];
}

export class ListPlaceView {
  @IsArray() @ValidateNested({ each: true }) @Type(() => UnpairedView) unpaired!: UnpairedView[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => ListEntry) lists!: ListEntry[];
}

/** Something that happened to the items of a list. */
export class ListHistoryEntry {
  @IsInt() seq!: number;
  @IsInt() at!: number;
  @IsString() by!: string;
  @IsString() door!: string;
  @IsIn(['came', 'gone', 'renamed']) what!: 'came' | 'gone' | 'renamed';
  @IsOptional() @IsString() before?: string;
  @IsOptional() @IsString() after?: string;
}

/** A value that is stored, and not on the list. */
export class UnlistedView {
  @IsString() columnId!: string;
  @IsString() text!: string;
  @IsInt() count!: number;
  /** What the item of that name is called now, where it was renamed. */
  @IsOptional() @IsString() becomes?: string;
}

/** A list looked at closely. */
export class ListDetailView {
  @ValidateNested() @Type(() => ListEntry) entry!: ListEntry;
  @IsObject() settings!: ListSettings | Record<string, never>;
  @IsArray() @ValidateNested({ each: true }) @Type(() => ListItemView) items!: ListItemView[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => UnlistedView) unlisted!: UnlistedView[];
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => ListHistoryEntry)
  history!: ListHistoryEntry[];
}

export class SpellingView {
  @IsString() text!: string;
  @IsInt() count!: number;
  /** Whether it differs in letter case, accents, blanks or signs alone. */
  @IsOptional() @IsBoolean() isWritten?: boolean;
}

/** Spellings that are likely one name. */
export class VariantsEntry {
  @ValidateNested() @Type(() => SpellingView) keep!: SpellingView;
  @IsArray() @ValidateNested({ each: true }) @Type(() => SpellingView) others!: SpellingView[];
}

export class VariantsView {
  @IsArray() @ValidateNested({ each: true }) @Type(() => VariantsEntry) variants!: VariantsEntry[];
  /** Different values that were compared; of more only the most frequent are. */
  @IsInt() compared!: number;
}

/** Values that become another. */
export class ValueChange {
  @IsArray()
  @ArrayMaxSize(MOST_FOLDED)
  @IsString({ each: true })
  @MaxLength(LONGEST_VALUE, { each: true })
  from!: string[];
  @IsString() @IsNotEmpty() @MaxLength(LONGEST_VALUE) to!: string;
}

/** Changes values of a column in all records that hold them, as one write. */
export class ChangeValues {
  @IsUUID() writeId!: string;
  @IsArray()
  @ArrayMaxSize(MOST_FOLDED)
  @ValidateNested({ each: true })
  @Type(() => ValueChange)
  changes!: ValueChange[];
  /** How many records were seen to hold them. */
  @IsInt() count!: number;
  /** Whether what is only asked about is meant. */
  @IsOptional() @IsBoolean() takesAsked?: boolean;
}

/** How many records hold values that are to become others. */
export class CountValues {
  @IsArray()
  @ArrayMaxSize(MOST_FOLDED)
  @ValidateNested({ each: true })
  @Type(() => ValueChange)
  changes!: ValueChange[];
  /** Whether what is only asked about is meant. */
  @IsOptional() @IsBoolean() takesAsked?: boolean;
}

/** How many records hold the values, and what would become of them. */
export class ValuesCount extends ManyPreview {
  @IsInt() count!: number;
}

/** A notice that would be mailed. */
export class NoticeView {
  @IsString() id!: string;
  @IsInt() at!: number;
  @IsString() to!: string;
  @IsString() subject!: string;
  @IsString() text!: string;
  /** Where what it is about stands, in the application. */
  @IsOptional() @IsString() link?: string;
  @IsBoolean() isRead!: boolean;
}

export class OutboxView {
  @IsArray() @ValidateNested({ each: true }) @Type(() => NoticeView) notices!: NoticeView[];
  @IsInt() unread!: number;
}

export class ReadNotices {
  @IsArray() @ArrayMaxSize(500) @IsString({ each: true }) ids!: string[];
}
