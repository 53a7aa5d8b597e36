import { hash, verify, type Algorithm } from '@node-rs/argon2';

/** OWASP's first choice for argon2id: 19 MiB, two passes, one lane. */
const COSTS = { algorithm: 2 satisfies Algorithm, memoryCost: 19_456, timeCost: 2, parallelism: 1 };

/** A password as it is kept: the same text however a keyboard composes it (Unicode NFKC, RFC 8265). */
const normalised = (password: string): string => password.normalize('NFKC');

export function hashPassword(password: string): Promise<string> {
  return hash(normalised(password), COSTS);
}

/** Checks a password; without a hash it takes as long and fails, so as to tell nobody who exists. */
export async function passwordMatches(
  passwordHash: string | null,
  password: string,
): Promise<boolean> {
  if (passwordHash === null) {
    await hash(password, COSTS);
    return false;
  }
  if (await verify(passwordHash, normalised(password))) return true;
  // Kept by an earlier version, as it was typed.
  return normalised(password) !== password && verify(passwordHash, password);
}
