import type { Problem, Strictness } from '../values';

/** Why a value may not be stored, or should be looked at again. */
export interface Doubt {
  readonly problem: Problem;
  readonly strictness: Strictness;
  /** In whose name: a form's, of what the grid writes. */
  readonly by?: string;
}

/** Why a value can't be written, or what is to be said of it, and where it was given. */
export interface Verdict extends Doubt {
  /** Of a form, the input; else the column. */
  readonly fieldId: string;
  readonly columnId: string;
}

/** The doubt that keeps a cell from being stored, unless it is meant. */
export const inTheWay = (doubts: readonly Doubt[], isMeant = false): Doubt | undefined =>
  doubts.find(({ strictness }) => strictness === 'refuse' || (strictness === 'ask' && !isMeant));

export const isNote = ({ strictness }: Doubt): boolean => strictness === 'note';
