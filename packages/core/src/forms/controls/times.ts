import type { Control } from './control';

export const date: Control = {
  id: 'date',
  label: 'Date, typed or picked',
  kinds: ['date'],
  takes: [],
  ownCharacters: 12,
};

export const dateLists: Control = {
  id: 'dateLists',
  label: 'Date from lists',
  kinds: ['date'],
  takes: [],
  ownCharacters: 22,
};

export const time: Control = {
  id: 'time',
  label: 'Time',
  kinds: ['time'],
  takes: [],
  ownCharacters: 0,
};

export const moment: Control = {
  id: 'moment',
  label: 'Date and time',
  kinds: ['moment'],
  takes: [],
  ownCharacters: 6,
};
