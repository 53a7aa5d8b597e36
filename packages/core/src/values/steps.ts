/** Runs work that is parted into steps to its end, at once. */
export function atOnce<T>(steps: Generator<void, T>): T {
  for (;;) {
    const step = steps.next();
    if (step.done === true) return step.value;
  }
}
