import { verify } from '@node-rs/argon2';
import { slowHash } from '../access/slowHash';

/** A password as it is kept: the same text however a keyboard composes it (Unicode NFKC, RFC 8265). */
const normalised = (password: string): string => password.normalize('NFKC');

export function hashPassword(password: string): Promise<string> {
  return slowHash(normalised(password));
}

/** Checks a password; without a hash it takes as long and fails, so as to tell nobody who exists. */
export async function passwordMatches(
  passwordHash: string | null,
  password: string,
): Promise<boolean> {
  if (passwordHash === null) {
    await slowHash(password);
    return false;
  }
  if (await verify(passwordHash, normalised(password))) return true;
  // Kept by an earlier version, as it was typed.
  return normalised(password) !== password && verify(passwordHash, password);
}
