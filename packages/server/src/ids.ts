import { createHash, randomBytes } from 'node:crypto';

const ID_BYTES = 15;
/** Random bytes are drawn for so many ids at once. */
const DRAWN = 256;
let drawn = Buffer.alloc(0);
let at = 0;

/** A new id: 120 random bits, safe in addresses. */
export function newId(): string {
  if (at >= drawn.length) {
    drawn = randomBytes(ID_BYTES * DRAWN);
    at = 0;
  }
  at += ID_BYTES;
  return drawn.toString('base64url', at - ID_BYTES, at);
}

export function digestOf(...parts: readonly string[]): string {
  return createHash('sha256').update(JSON.stringify(parts)).digest('base64url');
}
