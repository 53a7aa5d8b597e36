import type { Control } from './control';

export const line: Control = {
  id: 'line',
  label: 'One line',
  kinds: ['text', 'email', 'phone', 'webAddress', 'wholeNumber', 'number', 'money'],
  takes: ['suggests'],
  ownCharacters: 0,
};

export const lines: Control = {
  id: 'lines',
  label: 'Several lines',
  kinds: ['text'],
  takes: ['lines'],
  ownCharacters: 0,
  span: 6,
};
