import type { Sentences } from '../../values';
import type { Control } from './control';

declare module '../../values/problem' {
  interface Problems {
    notChecked: object;
  }
}

export const CHECKED_SENTENCES: Sentences<'notChecked'> = {
  notChecked: () => 'This is confirmed with a tick, or left blank.',
};

export const dropdown: Control = {
  id: 'dropdown',
  label: 'Dropdown',
  kinds: ['oneChoice'],
  takes: ['pictures', 'follows'],
  ownCharacters: 4,
};

export const radio: Control = {
  id: 'radio',
  label: 'One of a few, all in sight',
  kinds: ['oneChoice'],
  takes: ['inRow', 'pictures', 'follows'],
  ownCharacters: 6,
};

export const pictures: Control = {
  id: 'pictures',
  label: 'Pictures to choose from',
  kinds: ['oneChoice'],
  takes: ['pictures'],
  ownCharacters: 40,
};

export const boxes: Control = {
  id: 'boxes',
  label: 'Boxes to tick',
  kinds: ['severalChoices'],
  takes: ['inRow'],
  ownCharacters: 8,
};

export const yesNo: Control = {
  id: 'yesNo',
  label: 'Yes or no',
  kinds: ['yesNo'],
  takes: [],
  ownCharacters: 6,
};

/** A single box that says "I have checked this": ticked or blank, and never no. */
export const checked: Control = {
  id: 'checked',
  label: 'A box to confirm',
  kinds: ['yesNo'],
  takes: [],
  ownCharacters: 6,
  check: (value) => (value === true ? null : { code: 'notChecked' }),
};
