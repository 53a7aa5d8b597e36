import type { Landed } from '@varn/contract';
import type { FilledIn } from '../form/filledIn';

/** What was done last and can be taken back. */
export type Act =
  | { readonly is: 'cleared'; readonly filled: FilledIn }
  /** @param filled what was typed, where it comes back into the fields when the record goes */
  | { readonly is: 'written'; readonly landed: Landed; readonly filled?: FilledIn };

/** Where one is with the record that is entered or corrected. */
export type DeskStep =
  | { readonly is: 'entering' }
  /** Submit was pressed too early, and the form says what is missing instead of going there. */
  | { readonly is: 'heldBack' }
  /** An update was asked for, and nothing differs from what is stored. */
  | { readonly is: 'unchanged' }
  /** An update was asked for before all was decided that someone else changed too. */
  | { readonly is: 'unsettled' }
  /** An update would erase what is stored in these columns: it waits for a word. */
  | { readonly is: 'asked'; readonly erasing: readonly string[] };

export interface DeskState {
  readonly step: DeskStep;
  /** What is told of the last record, in the form's own words. */
  readonly said: string;
  readonly acts: readonly Act[];
}

export type DeskEvent =
  | { readonly is: 'pressed' }
  | { readonly is: 'heldBack' | 'unchanged' | 'unsettled' }
  | { readonly is: 'asked'; readonly erasing: readonly string[] }
  | { readonly is: 'written'; readonly said: string }
  /** A record that settled behind the one that is entered, in the form's words. */
  | { readonly is: 'settled'; readonly said: string }
  /** The server told of a write of this desk, which can be taken back from now on. */
  | { readonly is: 'landed'; readonly landed: Landed; readonly filled?: FilledIn }
  /** @param filled what stood there, where anything did */
  | { readonly is: 'cleared'; readonly filled: FilledIn | null }
  | { readonly is: 'takenBack' };

export const ENTERING: DeskStep = { is: 'entering' };
export const BLANK_DESK: DeskState = { step: ENTERING, said: '', acts: [] };

/** What becomes of the desk when something is done at it. */
export function atDesk(state: DeskState, event: DeskEvent): DeskState {
  switch (event.is) {
    case 'pressed':
      return { ...state, step: ENTERING, said: '' };
    case 'heldBack':
    case 'unchanged':
    case 'unsettled':
      return { ...state, step: { is: event.is } };
    case 'asked':
      return { ...state, step: { is: 'asked', erasing: event.erasing } };
    case 'written':
      return { ...state, step: ENTERING, said: event.said };
    case 'settled':
      return { ...state, said: event.said };
    case 'landed': {
      const { landed, filled } = event;
      const isNoted = state.acts.some(
        (act) => act.is === 'written' && act.landed.writeId === landed.writeId,
      );
      if (isNoted) return state;
      const act: Act = { is: 'written', landed, ...(filled && { filled }) };
      return { ...state, acts: [...state.acts, act] };
    }
    case 'cleared': {
      const { filled } = event;
      const acts: readonly Act[] = filled ? [...state.acts, { is: 'cleared', filled }] : state.acts;
      return { step: ENTERING, said: '', acts };
    }
    case 'takenBack':
      return { ...state, said: '', acts: state.acts.slice(0, -1) };
  }
}
