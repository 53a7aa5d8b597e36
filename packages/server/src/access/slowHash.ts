import { hash, hashSync, verifySync, type Algorithm } from '@node-rs/argon2';

/** OWASP's first choice for argon2id: 19 MiB, two passes, one lane. */
const COSTS = { algorithm: 2 satisfies Algorithm, memoryCost: 19_456, timeCost: 2, parallelism: 1 };

/** A text as argon2id keeps it, with its salt and costs, in the PHC string format. */
export const slowHash = (text: string): Promise<string> => hash(text, COSTS);

let ofNothing: string | undefined;

/** Whether a text is the one that was kept, at once; of `null` none is, and it takes as long. */
export function isKeptText(kept: string | null, text: string): boolean {
  ofNothing ??= hashSync('', COSTS);
  return verifySync(kept ?? ofNothing, text) && kept !== null;
}
