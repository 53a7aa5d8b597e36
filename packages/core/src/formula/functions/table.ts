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
export function nearFunction(name: string): string | null {
  let best: { name: string; distance: number } | null = null;
  for (const known of FUNCTIONS.keys()) {
    const distance = editDistance(name, known);
    if (distance <= Math.min(2, known.length / 3) && distance < (best?.distance ?? 3)) {
      best = { name: known, distance };
    }
  }
  return best?.name ?? null;
}

/** Levenshtein's distance, by rows. */
function editDistance(a: string, b: string): number {
  let above = Array.from({ length: b.length + 1 }, (_, n) => n);
  for (let i = 1; i <= a.length; i += 1) {
    const row = [i];
    for (let j = 1; j <= b.length; j += 1) {
      const same = a[i - 1] === b[j - 1] ? 0 : 1;
      row.push(Math.min((row[j - 1] ?? 0) + 1, (above[j] ?? 0) + 1, (above[j - 1] ?? 0) + same));
    }
    above = row;
  }
  return above.at(-1) ?? 0;
}
