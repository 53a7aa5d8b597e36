export const percentile = (values, share) =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length * share)];

/** Notes from now on how long it takes from each key of a character to the next paint. */
export function watchPaints(page) {
  return page.evaluate(() => {
    window.paints = [];
    const { port1, port2 } = new MessageChannel();
    const pressed = [];
    port1.onmessage = () => window.paints.push(performance.now() - pressed.shift());
    document.addEventListener(
      'keydown',
      ({ key }) => {
        if (key.length > 1 && key !== 'Backspace') return;
        pressed.push(performance.now());
        requestAnimationFrame(() => port2.postMessage(0));
      },
      true,
    );
  });
}

/** The times noted, in milliseconds, but for the first, while all is still warming up. */
export const paintsOf = (page, skipped = 5) =>
  page.evaluate((first) => window.paints.slice(first), skipped);
