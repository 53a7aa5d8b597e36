import { hash, verify, type Algorithm } from '@node-rs/argon2';

/** OWASP's first choice for argon2id: 19 MiB, two passes, one lane. */
const COSTS = { algorithm: 2 satisfies Algorithm, memoryCost: 19_456, timeCost: 2, parallelism: 1 };

export function hashPassword(password: string): Promise<string> {
  return hash(password, COSTS);
}

/** Checks a password; without a hash it takes as long and fails, so as to tell nobody who exists. */
export async function passwordMatches(
  passwordHash: string | null,
  password: string,
): Promise<boolean> {
  if (passwordHash !== null) return verify(passwordHash, password);
  await hash(password, COSTS);
  return false;
}
