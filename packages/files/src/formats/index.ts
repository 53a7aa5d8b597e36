import { csv } from './csv/intake';

/** Every format of files that can be brought in. A new one is a folder here and a line. */
export const FORMATS = { csv };

export type FormatId = keyof typeof FORMATS;
