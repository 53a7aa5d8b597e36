import type { DateOrder } from './locale';

/**
 * Why a typed text is not a value of its column's kind: data, not words. The words are made
 * in one place, `words/problems.ts`.
 */
export type Problem =
  | { readonly code: 'required' }
  | { readonly code: 'notANumber'; readonly text: string }
  | { readonly code: 'otherDecimalSign'; readonly text: string; readonly meant: string }
  | { readonly code: 'tooLarge'; readonly text: string }
  | { readonly code: 'tooManyDigits'; readonly text: string; readonly digits: number }
  | { readonly code: 'notWhole'; readonly text: string }
  | { readonly code: 'notADate'; readonly text: string; readonly order: DateOrder }
  | {
      readonly code: 'noSuchDay';
      readonly day: number;
      readonly month: number;
      readonly year: number;
      readonly days: number;
    }
  | { readonly code: 'noSuchMonth'; readonly month: number; readonly order: DateOrder }
  | {
      readonly code: 'dateIncomplete';
      readonly open: readonly ('day' | 'month' | 'year')[];
    }
  | {
      readonly code: 'otherWeekday';
      readonly day: number;
      readonly month: number;
      readonly year: number;
      /** The day of the week it is, from 0 for Sunday. */
      readonly weekday: number;
    }
  | { readonly code: 'notATime'; readonly text: string }
  | { readonly code: 'notAMoment'; readonly text: string; readonly order: DateOrder }
  | { readonly code: 'notYesNo'; readonly text: string }
  | { readonly code: 'notAChoice'; readonly text: string; readonly near: string | null }
  | {
      readonly code: 'finerThanMinor';
      readonly text: string;
      readonly currency: string;
      readonly digits: number;
    }
  | { readonly code: 'notAnEmail'; readonly text: string }
  | { readonly code: 'notAPhone'; readonly text: string; readonly country: string | null }
  | { readonly code: 'notAWebAddress'; readonly text: string }
  | { readonly code: 'noStep'; readonly text: string; readonly from: number; readonly to: number }
  | { readonly code: 'notChecked' }
  | { readonly code: 'tooLow'; readonly text: string; readonly least: string }
  | { readonly code: 'tooHigh'; readonly text: string; readonly most: string }
  | { readonly code: 'tooShort'; readonly length: number; readonly least: number }
  | { readonly code: 'tooLong'; readonly length: number; readonly most: number }
  | { readonly code: 'notAFile'; readonly text: string }
  | { readonly code: 'fileGone'; readonly text: string }
  | { readonly code: 'fileTooLarge'; readonly text: string; readonly most: number }
  | { readonly code: 'otherFiles'; readonly text: string; readonly accepts: 'images' | 'documents' }
  | {
      readonly code: 'keyTaken';
      readonly text: string;
      /** What the record that has the key is called, by its first other values. */
      readonly holder: string;
      /** The grid's row it stands in. */
      readonly row: number;
    }
  | { readonly code: 'notTyped'; readonly kind: string }
  | { readonly code: 'nothingTyped' };

/** What reading a typed text gives: a value to store, or why not. */
export type Reading =
  | {
      readonly ok: true;
      readonly value: string | number | boolean | null;
      /** Allowed, but look again: it is written only when the person says that it is meant. */
      readonly ask?: Problem;
    }
  | { readonly ok: false; readonly problem: Problem };

export const read = (value: string | number | boolean | null): Reading => ({ ok: true, value });
export const refuse = (problem: Problem): Reading => ({ ok: false, problem });
