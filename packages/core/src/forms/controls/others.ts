import type { Control } from './control';

export const file: Control = {
  id: 'file',
  label: 'File',
  kinds: ['file'],
  takes: ['accepts', 'most'],
  ownCharacters: 12,
};

/** What nobody types: filled in by Varn or by a formula. */
export const shown: Control = {
  id: 'shown',
  label: 'Shown, not typed',
  kinds: ['computed', 'runningNumber', 'writtenAt', 'writtenBy', 'door'],
  takes: [],
  ownCharacters: 0,
};
