/** What stands between several choices in one cell, unless a column has its own. */
export const CHOICE_SEPARATOR = '; ';

/** What of a separator parts choices in a cell, however it is spaced. */
export const separatorSign = (separator = CHOICE_SEPARATOR): string =>
  separator.trim() || separator;

/**
 * Several choices as one cell holds them. A choice that holds the separator, or begins with a
 * quote or a space, stands in double quotes, with quotes in it doubled, as in RFC 4180.
 */
export function joinChoices(choices: readonly string[], separator = CHOICE_SEPARATOR): string {
  const sign = separatorSign(separator);
  return choices
    .map((choice) => {
      const quoted = choice.includes(sign) || choice.startsWith('"') || choice !== choice.trim();
      return quoted ? `"${choice.replaceAll('"', '""')}"` : choice;
    })
    .join(separator);
}

/** The choices in a cell: what `joinChoices` joined, and what people type like it. */
export function splitChoices(text: string, separator = CHOICE_SEPARATOR): string[] {
  const sign = separatorSign(separator);
  const choices: string[] = [];
  let at = 0;
  while (at <= text.length) {
    const rest = text.slice(at);
    const quoted = /^\s*"((?:[^"]|"")*)"/.exec(rest);
    const behind = quoted ? rest.slice(quoted[0].length) : '';
    // A separator may itself be white space, such as a line break.
    const after = behind.startsWith(sign) ? behind : behind.trimStart();
    if (quoted && (after === '' || after.startsWith(sign))) {
      choices.push((quoted[1] ?? '').replaceAll('""', '"'));
      at = text.length - after.length + sign.length;
      continue;
    }
    const end = rest.indexOf(sign);
    const choice = (end < 0 ? rest : rest.slice(0, end)).trim();
    if (choice !== '') choices.push(choice);
    at += (end < 0 ? rest.length : end) + sign.length;
  }
  return choices;
}
