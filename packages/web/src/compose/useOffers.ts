import { columnIdsOf, offersAt, type OutlineOffer, type OutlineOffers } from '@varn/core';
import { useMemo, useState } from 'react';
import type { Composing } from './useCompose';

/** What a typed line could go on with, and the one of it that keys are on. */
export interface Offers {
  readonly list: readonly OutlineOffer[];
  /** Where the word begins that they are for. */
  readonly from: number;
  /** -1 for none. */
  readonly pointed: number;
  readonly point: (step: 1 | -1) => void;
  /** Shows none until something else is typed. */
  readonly close: () => void;
  /** The text with an offer in it, and where the caret goes. */
  readonly taken: (offer: OutlineOffer) => { readonly text: string; readonly caret: number };
}

const NONE: OutlineOffers = { from: 0, to: 0, offers: [] };

/** @param caret the place in the text, or `null` while the line has no focus */
export function useOffers(composing: Composing, text: string, caret: number | null): Offers {
  const { columns, ground, layout } = composing;
  const [pointing, setPointing] = useState({ at: '', index: -1, isClosed: false });
  const place = `${text}|${caret}`;
  const held = pointing.at === place ? pointing : { at: place, index: -1, isClosed: false };
  const open = useMemo(() => {
    const placed = new Set(layout.definition.blocks.flatMap(columnIdsOf));
    return columns.filter(({ id }) => !placed.has(id)).map(({ heading }) => heading);
  }, [columns, layout]);
  const { from, to, offers } = useMemo(
    () => (caret === null ? NONE : offersAt(text, caret, { ...ground, open })),
    [text, caret, ground, open],
  );
  const list = held.isClosed ? NONE.offers : offers;
  return {
    list,
    from,
    pointed: held.index,
    point: (step) => {
      const count = list.length;
      const next = held.index < 0 ? (step > 0 ? 0 : count - 1) : held.index + step;
      setPointing({ ...held, index: (next + count) % count });
    },
    close: () => setPointing({ ...held, isClosed: true }),
    taken: (offer) => ({
      text: text.slice(0, from) + offer.text + text.slice(to),
      caret: from + offer.text.length,
    }),
  };
}
