/** The longest any one thing is waited for. */
const MOST_MS = 120_000;

/** Waits for something, but not for ever. @throws Error with what never came */
export async function within(what, work, ms = MOST_MS) {
  let timer;
  const isOver = new Promise((_, reject) => {
    timer = setTimeout(
      () => reject(new Error(`waited ${Math.round(ms / 1000)} s for ${what}, in vain`)),
      ms,
    );
  });
  try {
    return await Promise.race([work, isOver]);
  } finally {
    clearTimeout(timer);
  }
}

/** Asks again and again until the answer is as wanted. @throws Error with what never came */
export async function until(what, isThere, ms = MOST_MS) {
  const end = performance.now() + ms;
  for (;;) {
    const found = await isThere();
    if (found) return found;
    if (performance.now() > end) {
      throw new Error(`waited ${Math.round(ms / 1000)} s for ${what}, in vain`);
    }
  }
}
