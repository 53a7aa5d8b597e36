/** What stands in a formula that is no bare word: texts, and names in apostrophes. */
const PASSED_OVER = `"(?:[^"]|"")*"|'(?:[^']|'')*'`;
/** Names that would be read as cells: `Q1`, `B2`. */
const LIKE_A_CELL = /^\$?[A-Za-z]{1,4}\$?\d+$/;

const escaped = (text: string): string => text.replace(/[\\^$.*+?()[\]{}|/]/g, '\\$&');

/**
 * A formula whose bare column names are written as references: `Price * 2` becomes `'Price' * 2`.
 * Only what can mean one column is: of headings that differ in case alone, none, and none that is
 * the name of something else.
 *
 * @param text without its leading `=`
 * @param isTaken whether something else is called so
 * @param write how a heading is written as a reference
 */
export function withHeadings(
  text: string,
  headings: Iterable<string>,
  isTaken: (name: string) => boolean,
  write: (heading: string) => string,
): string {
  const called = new Map<string, string | null>();
  for (const heading of headings) {
    const name = heading.trim();
    const key = name.toLowerCase();
    if (name === '' || isTaken(name) || LIKE_A_CELL.test(name)) continue;
    called.set(key, called.has(key) ? null : name);
  }
  if (called.size === 0) return text;
  const longestFirst = [...called.keys()].sort((a, b) => b.length - a.length).map(escaped);
  // A word before `(` or `!` is a function or a sheet.
  const pattern = new RegExp(
    `${PASSED_OVER}|(?<![\\p{L}\\p{N}_.$!])(?:${longestFirst.join('|')})(?![\\p{L}\\p{N}_.(!])`,
    'giu',
  );
  return text.replace(pattern, (found) => {
    const heading = called.get(found.toLowerCase());
    return heading === undefined || heading === null ? found : write(heading);
  });
}
