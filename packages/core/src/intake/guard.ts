/**
 * The guard of formula-like text in files: a text that another program would run as a formula
 * (OWASP's list: it begins with `=`, `+`, `-`, `@`, a tab or a return) leaves behind an
 * apostrophe; a text that begins with the guard itself has it doubled, so that taking the guard
 * off gives exactly what was put in.
 */
export const GUARD = "'";

const RISKY = /^[=+\-@\t\r']/;

export function guardText(text: string): string {
  return RISKY.test(text) ? GUARD + text : text;
}

export function unguardText(text: string): string {
  return text.startsWith(GUARD) && RISKY.test(text.slice(1)) ? text.slice(1) : text;
}
