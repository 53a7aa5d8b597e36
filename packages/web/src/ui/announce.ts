/** How long a text stands: it is read out when it comes, and not met again by whoever reads on. */
const STANDS_MS = 4000;

interface Region {
  readonly host: HTMLElement;
  readonly text: HTMLElement;
}

let region: Region | null = null;
let clearing: ReturnType<typeof setTimeout> | undefined;

/** Has screen readers read a text out, where nothing on the page that has the focus says it. */
export function announce(text: string): void {
  if (text === '') return;
  if (!region?.host.isConnected) region = newRegion();
  const place = region;
  // The same text once more is read out once more.
  say(place, '');
  clearTimeout(clearing);
  requestAnimationFrame(() => say(place, text));
  clearing = setTimeout(() => say(place, ''), STANDS_MS);
}

function say({ host, text }: Region, said: string): void {
  text.textContent = said;
  host.dataset['says'] = said;
}

/** A closed tree: what is only read out is no text of the page, to be found, chosen or printed. */
function newRegion(): Region {
  const host = document.createElement('div');
  host.className = 'varn-announced';
  const text = document.createElement('div');
  text.setAttribute('aria-live', 'polite');
  host.attachShadow({ mode: 'closed' }).append(text);
  document.body.append(host);
  return { host, text };
}
