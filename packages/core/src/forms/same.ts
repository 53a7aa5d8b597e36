/** Whether two plain values hold the same, however deep. */
export function isSame(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) !== Array.isArray(b)) return false;
  const names = Object.keys(a);
  return (
    names.length === Object.keys(b).length &&
    names.every(
      (name) =>
        Object.hasOwn(b, name) &&
        isSame((a as Record<string, unknown>)[name], (b as Record<string, unknown>)[name]),
    )
  );
}

/**
 * What holds the same as before is given as the same object as before, by its id: whoever draws
 * it can tell at a glance what changed.
 */
export function sharing<T extends { readonly id: string }>(
  before: readonly T[],
  now: readonly T[],
): readonly T[] {
  const held = new Map(before.map((each) => [each.id, each]));
  return now.map((each) => {
    const old = held.get(each.id);
    return old && isSame(old, each) ? old : each;
  });
}
