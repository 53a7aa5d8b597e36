/**
 * What puts a text in place of another wherever that stands, whatever its case; accents must be as
 * they are written. Signs have no meaning of their own in either.
 *
 * @returns for a cell's text what it becomes, `null` where the text does not stand in it
 */
export function replacing(text: string, by: string): (held: string) => string | null {
  if (text === '') return () => null;
  const wanted = new RegExp(text.replace(/[\\^$.*+?()[\]{}|/-]/g, '\\$&'), 'giu');
  return (held) => {
    const next = held.replace(wanted, () => by);
    return next === held ? null : next;
  };
}
