import { createHash, randomBytes } from 'node:crypto';

/** A new id: 120 random bits, safe in addresses. */
export function newId(): string {
  return randomBytes(15).toString('base64url');
}

export function digestOf(...parts: readonly string[]): string {
  return createHash('sha256').update(JSON.stringify(parts)).digest('base64url');
}
