import { useLayoutEffect, useState, type CSSProperties, type RefObject } from 'react';

const TALLEST_PX = 280;
const GAP_PX = 3;
const EDGE_PX = 8;

/** Where a list that belongs to a field stands: under it, or over it where there is more room. */
export function usePopupPlace(
  field: RefObject<HTMLElement | null>,
  open: boolean,
): CSSProperties | null {
  const [place, setPlace] = useState<CSSProperties | null>(null);
  useLayoutEffect(() => {
    if (!open) return;
    const settle = (): void => {
      if (!field.current) return;
      const { top, bottom, left, width } = field.current.getBoundingClientRect();
      const below = window.innerHeight - bottom - EDGE_PX;
      const above = top - EDGE_PX;
      const under = below >= Math.min(TALLEST_PX, above);
      setPlace({
        left,
        minWidth: width,
        maxWidth: window.innerWidth - left - EDGE_PX,
        maxHeight: Math.min(TALLEST_PX, (under ? below : above) - GAP_PX),
        ...(under ? { top: bottom + GAP_PX } : { bottom: window.innerHeight - top + GAP_PX }),
      });
    };
    settle();
    // Whatever scrolls takes the field with it, and the list after.
    window.addEventListener('scroll', settle, true);
    window.addEventListener('resize', settle);
    return () => {
      window.removeEventListener('scroll', settle, true);
      window.removeEventListener('resize', settle);
    };
  }, [field, open]);
  return place;
}
