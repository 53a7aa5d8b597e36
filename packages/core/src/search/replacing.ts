/** What a text becomes, or that it would be longer than it may be. */
export type Replacement = { readonly text: string } | { readonly tooLong: true };

/**
 * What puts a text in place of another wherever that stands, whatever its case; accents must be as
 * they are written. Signs have no meaning of their own in either.
 *
 * @param most the longest text it may become
 * @returns for a cell's text what it becomes, `null` where nothing changes
 */
export function replacing(
  text: string,
  by: string,
  most: number,
): (held: string) => Replacement | null {
  if (text === '') return () => null;
  const wanted = new RegExp(text.replace(/[\\^$.*+?()[\]{}|/]/g, '\\$&'), 'giu');
  return (held) => {
    if (!fits(held, wanted, by, most)) return { tooLong: true };
    const next = held.replace(wanted, () => by);
    return next === held ? null : { text: next };
  };
}

/** Whether it stays within bounds; nothing is made before that is known. */
function fits(held: string, wanted: RegExp, by: string, most: number): boolean {
  // Each place grows by what comes in at most.
  if (held.length * (by.length + 1) <= most) return true;
  let length = held.length;
  for (const [found] of held.matchAll(wanted)) {
    length += by.length - found.length;
    if (length > most + held.length) return false;
  }
  return length <= most;
}
