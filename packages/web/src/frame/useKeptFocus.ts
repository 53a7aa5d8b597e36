import { useEffect } from 'react';

/** What Tab stops at. */
const STOPS =
  'a[href], button, input, select, textarea, [tabindex]:not([tabindex="-1"]), [contenteditable=true]';
/** The page itself takes the focus where nothing in it is nearer. */
const PAGE = '#page';

const isStop = (element: HTMLElement): boolean =>
  !element.matches(':disabled, [type=hidden]') &&
  element.closest('[inert], [aria-hidden=true]') === null &&
  element.checkVisibility({ visibilityProperty: true });

/**
 * Where the focus goes when what had it is gone: the first stop in the nearest part of the page that
 * is still there, as the next line of a list whose line was taken away; else the page itself.
 *
 * @param path what had the focus, and all it stood in, from the inside out
 */
function heirOf(path: readonly Element[]): HTMLElement | null {
  const page = document.querySelector<HTMLElement>(PAGE);
  const near = path.slice(1).filter((each) => each.isConnected);
  for (const part of near) {
    if (part === page || part.contains(page)) break;
    const all = [...part.querySelectorAll<HTMLElement>(STOPS)].filter(isStop);
    // In a form it goes on with what is typed.
    const stop = all.find(({ dataset }) => dataset['field'] !== undefined) ?? all[0];
    if (stop) return stop;
  }
  return page;
}

/**
 * Keeps the focus on the page: where what has it goes or can't have it any more, and nothing else
 * was given it, it passes to what is nearest. Keys then still act, and a screen reader stays there.
 */
export function useKeptFocus(): void {
  useEffect(() => {
    let path: readonly Element[] = [];
    let frame = 0;
    const onFocus = ({ target }: FocusEvent): void => {
      path = target instanceof Element ? pathOf(target) : [];
    };
    const isLost = (): boolean => {
      const { activeElement: active, body } = document;
      const [last] = path;
      if (!last || (active !== null && active !== body && active !== last)) return false;
      return !last.isConnected || last.matches(':disabled');
    };
    const passOn = (): void => {
      frame = 0;
      if (isLost()) heirOf(path)?.focus({ preventScroll: true });
    };
    const observer = new MutationObserver(() => {
      // After whoever moves the focus on purpose.
      if (frame === 0 && isLost()) frame = requestAnimationFrame(() => setTimeout(passOn));
    });
    observer.observe(document.body, {
      childList: true,
      subtree: true,
      attributeFilter: ['disabled'],
    });
    document.addEventListener('focusin', onFocus);
    return () => {
      document.removeEventListener('focusin', onFocus);
      observer.disconnect();
      cancelAnimationFrame(frame);
    };
  }, []);
}

function pathOf(element: Element): Element[] {
  const path: Element[] = [];
  for (let each: Element | null = element; each; each = each.parentElement) path.push(each);
  return path;
}
