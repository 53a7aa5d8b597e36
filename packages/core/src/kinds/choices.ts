import { read, refuse } from '../values';
import type { Column, Kind } from './kind';
import { showPlain } from './showPlain';

/** Folds what people type alike: case, accents, and white space at the ends and doubled. */
export function foldText(text: string): string {
  return text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase().trim().replace(/\s+/g, ' ');
}

function findChoice(typed: string, column: Column): string | undefined {
  const choices = column.settings.choices ?? [];
  if (choices.includes(typed)) return typed;
  const folded = foldText(typed);
  return choices.find((choice) => foldText(choice) === folded);
}

/** One of the column's choices, stored as the choice is written, however it was typed. */
export const oneChoice: Kind = {
  id: 'oneChoice',
  label: 'One choice',
  align: 'start',
  filledBy: 'people',
  control: 'choice',
  holds: 'string',
  usualLength: 14,
  read(typed, column) {
    if (typed.trim() === '') return read(null);
    const choice = findChoice(typed, column);
    if (choice !== undefined) return read(choice);
    const folded = foldText(typed);
    const begun = (column.settings.choices ?? []).find((each) => foldText(each).startsWith(folded));
    return refuse({ code: 'notAChoice', text: typed.trim(), near: begun ?? null });
  },
  show: showPlain,
};

/** What stands between several choices in one cell. */
export const CHOICE_SEPARATOR = '; ';

/** Any number of the column's choices in one cell, in the order they were given. */
export const severalChoices: Kind = {
  id: 'severalChoices',
  label: 'Several choices',
  align: 'start',
  filledBy: 'people',
  control: 'shown',
  holds: 'string',
  usualLength: 20,
  read(typed, column) {
    const chosen: string[] = [];
    for (const part of typed.split(';').filter((each) => each.trim() !== '')) {
      const choice = findChoice(part, column);
      if (choice === undefined)
        return refuse({ code: 'notAChoice', text: part.trim(), near: null });
      if (!chosen.includes(choice)) chosen.push(choice);
    }
    return read(chosen.length === 0 ? null : chosen.join(CHOICE_SEPARATOR));
  },
  show: showPlain,
};
