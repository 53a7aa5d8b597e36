import { nearestWord } from '../../values';
import { conditional } from './conditional';
import { dates } from './dates';
import type { FunctionDefinition } from './define';
import { logic } from './logic';
import { information, lookup } from './lookup';
import { mathematics } from './mathematics';
import { statistics } from './statistics';
import { texts } from './text';

/** Every function, by its name. */
export const FUNCTIONS: ReadonlyMap<string, FunctionDefinition> = new Map(
  Object.entries<FunctionDefinition>({
    ...logic,
    ...mathematics,
    ...statistics,
    ...conditional,
    ...texts,
    ...dates,
    ...lookup,
    ...information,
  }),
);

/** A function whose name is nearly the one written, for a word of help. */
export const nearFunction = (name: string): string | null =>
  nearestWord(name, FUNCTIONS.keys(), (known) => Math.min(2, known.length / 3));
