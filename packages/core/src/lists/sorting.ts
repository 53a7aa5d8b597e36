/** Values sorted at once; more are sorted in so many at a time and merged. */
const RUN = 2000;

/** Sorts in steps between which other work can be done; equals stay in their order. */
export function* sortedInSteps<T>(
  values: readonly T[],
  compare: (a: T, b: T) => number,
): Generator<void, T[]> {
  let runs: T[][] = [];
  for (let at = 0; at < values.length; at += RUN) {
    runs.push(values.slice(at, at + RUN).sort(compare));
    if (values.length > RUN) yield;
  }
  while (runs.length > 1) {
    const merged: T[][] = [];
    for (let at = 0; at < runs.length; at += 2) {
      merged.push(yield* mergedInSteps(runs[at] ?? [], runs[at + 1] ?? [], compare));
    }
    runs = merged;
  }
  return runs[0] ?? [];
}

function* mergedInSteps<T>(
  a: readonly T[],
  b: readonly T[],
  compare: (a: T, b: T) => number,
): Generator<void, T[]> {
  const merged: T[] = [];
  let [i, j] = [0, 0];
  while (i < a.length && j < b.length) {
    const [first, second] = [a[i] as T, b[j] as T];
    if (compare(second, first) < 0) {
      merged.push(second);
      j += 1;
    } else {
      merged.push(first);
      i += 1;
    }
    if (merged.length % RUN === 0) yield;
  }
  for (; i < a.length; i += 1) merged.push(a[i] as T);
  for (; j < b.length; j += 1) merged.push(b[j] as T);
  return merged;
}
