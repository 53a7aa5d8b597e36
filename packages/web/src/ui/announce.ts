/** How long a text stands: it is read out when it comes, and not met again by whoever reads on. */
const STANDS_MS = 1000;

let region: HTMLElement | null = null;
let clearing: ReturnType<typeof setTimeout> | undefined;

/** Has screen readers read a text out, where nothing on the page that has the focus says it. */
export function announce(text: string): void {
  if (text === '') return;
  if (!region?.isConnected) {
    region = document.createElement('div');
    region.setAttribute('aria-live', 'polite');
    region.className = 'varn-announced';
    document.body.append(region);
  }
  const place = region;
  // The same text once more is read out once more.
  place.textContent = '';
  clearTimeout(clearing);
  requestAnimationFrame(() => {
    place.textContent = text;
  });
  clearing = setTimeout(() => {
    place.textContent = '';
  }, STANDS_MS);
}
