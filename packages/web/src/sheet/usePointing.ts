import { useCallback, useRef, type MouseEvent } from 'react';
import { referenceFor } from './formula/ranges';
import { isFormula } from './formula/useFormulaHelp';
import { boxOf, type Spot } from './selection';
import type { AtHand } from './useAtHand';

/** A formula while it is typed: its text, and where the caret is. */
export interface Typing {
  readonly text: string;
  readonly caret: number;
}

/** The part of a formula a range is being pointed out for, by pressing and drawing in the grid. */
interface Pointing {
  readonly from: number;
  readonly to: number;
  readonly start: Spot;
}

/** Pressing and drawing in the grid while a formula is typed: the ranges that it is to read. */
export interface PointingActs {
  /** Points a range out for the formula that is typed; false where none can stand there. */
  readonly pointAt: (event: MouseEvent, spot: Spot | null) => boolean;
  readonly pointTo: (spot: Spot) => boolean;
  readonly pointed: () => void;
}

interface PointingDoors {
  readonly atHand: AtHand;
  /** What is typed by now; `null` while nothing is. */
  readonly typing: () => Typing | null;
  /** Puts another text in, and the caret with it. */
  readonly put: (typing: Typing) => void;
}

export function usePointing({ atHand, typing, put }: PointingDoors): PointingActs & {
  /** Begins afresh: what was pointed out is part of the text now. */
  readonly settle: () => void;
} {
  const { sheet, lines } = atHand;
  const pointing = useRef<Pointing | null>(null);
  const isDrawing = useRef(false);

  const pointOut = (spot: Spot, start: Spot): void => {
    const now = typing();
    if (!now) return;
    const here = pointing.current ?? { from: now.caret, to: now.caret, start };
    const own = { ownSheet: true, inRecord: false };
    const named = referenceFor(boxOf({ from: start, to: spot }), sheet, lines, own);
    const to = here.from + named.length;
    pointing.current = { from: here.from, to, start };
    put({ text: now.text.slice(0, here.from) + named + now.text.slice(here.to), caret: to });
  };

  return {
    pointAt: (event, spot) => {
      const now = typing();
      if (!now || !spot || event.button === 2 || spot.line < 0 || spot.column < 0) return false;
      if (!pointing.current && !takesReference(now)) return false;
      event.preventDefault();
      isDrawing.current = true;
      if (pointing.current) pointing.current = { ...pointing.current, start: spot };
      pointOut(spot, spot);
      return true;
    },
    pointTo: (spot) => {
      if (!isDrawing.current) return false;
      if (spot.line >= 0 && spot.column >= 0) pointOut(spot, pointing.current?.start ?? spot);
      return true;
    },
    pointed: () => {
      isDrawing.current = false;
    },
    settle: useCallback(() => {
      pointing.current = null;
    }, []),
  };
}

/** Whether a range can stand where the caret is in the formula. */
const takesReference = ({ text, caret }: Typing): boolean =>
  isFormula(`${text} `) && /[=(;,+\-*/^&<>:\s]$/.test(text.slice(0, caret));
