import type { FormulaView, SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import {
  FUNCTIONS,
  helpAt,
  printReference,
  referencesIn,
  type LocaleFacts,
  type Offer,
  type ReferenceSpan,
} from '@varn/core';
import { useEffect, useMemo, useState } from 'react';
import { request } from '../../api/client';

/** How long typing rests before the server is asked. */
const REST_MS = 250;

/** What is known of a formula while it is typed. */
export interface FormulaHelp {
  /** Functions and columns that could be meant. */
  readonly offers: readonly Offer[];
  /** The offer that is pointed at, -1 for none. */
  readonly chosen: number;
  readonly point: (step: number) => void;
  /** The text with an offer put in, and where the caret goes. */
  readonly accept: (offer: Offer) => { text: string; caret: number };
  readonly call: { readonly name: string; readonly argument: number } | null;
  readonly references: readonly ReferenceSpan[];
  readonly verdict: FormulaView | null;
}

interface Asked {
  readonly sheet: Pick<SheetView, 'id' | 'name' | 'columns'>;
  /** The column it is for; absent for a cell outside of the records. */
  readonly columnId?: string | undefined;
  readonly locale: LocaleFacts;
}

export const isFormula = (text: string): boolean => text.startsWith('=') && text.length > 1;

/** @param text with its `=`; `caret` the place in it */
export function useFormulaHelp(
  { sheet, columnId, locale }: Asked,
  text: string,
  caret: number,
): FormulaHelp {
  const [pointed, setPointed] = useState({ at: '', index: -1 });
  const [verdict, setVerdict] = useState<{ of: string; view: FormulaView } | null>(null);
  const body = text.startsWith('=') ? text.slice(1) : '';
  const { id: sheetId, name: sheetName, columns } = sheet;
  const help = useMemo(() => {
    const headings = columns.filter(({ id }) => id !== columnId).map(({ heading }) => heading);
    return helpAt(body, Math.max(0, caret - 1), locale, headings);
  }, [body, caret, locale, columns, columnId]);
  const references = useMemo(() => referencesIn(body, locale), [body, locale]);
  const place = `${text}|${caret}`;
  const chosen = pointed.at === place ? pointed.index : -1;

  useEffect(() => {
    if (!isFormula(text)) return;
    const asks = new AbortController();
    const { signal } = asks;
    const rest = setTimeout(() => {
      const asked = { text, ...(columnId !== undefined && { columnId }) };
      request<FormulaView>('POST', paths.checkFormula(sheetId), asked, { signal }).then(
        (view) => signal.aborted || setVerdict({ of: text, view }),
        // The formula is checked again when it is written; help can wait for the network.
        () => undefined,
      );
    }, REST_MS);
    return () => {
      asks.abort();
      clearTimeout(rest);
    };
  }, [text, sheetId, columnId]);

  return {
    offers: help.offers,
    chosen,
    point: (step) => {
      const count = help.offers.length;
      setPointed({ at: place, index: (chosen + step + count + (chosen < 0 ? 1 : 0)) % count });
    },
    accept: ({ is, name }) => {
      const from = help.from + 1;
      // In a record a heading alone is its value; elsewhere its sheet stands before it.
      const within = columnId === undefined ? sheetName : null;
      const written =
        is === 'column'
          ? printReference({ kind: 'heading', sheet: within, heading: name })
          : `${name}(`;
      const rest = text.slice(caret).replace(is === 'column' ? /^'/ : /^\(/, '');
      return { text: text.slice(0, from) + written + rest, caret: from + written.length };
    },
    call: help.call,
    references,
    verdict: verdict?.of === text ? verdict.view : null,
  };
}

/** What a function gives, and its parameters as they are written. */
export function describe(name: string): {
  about: string;
  parameters: readonly { text: string; repeats: boolean }[];
} | null {
  const known = FUNCTIONS.get(name);
  if (!known) return null;
  return {
    about: known.about,
    parameters: known.parameters.map(({ name: text, optional, repeats }) => ({
      text: `${optional ? `[${text}]` : text}${repeats ? '…' : ''}`,
      repeats,
    })),
  };
}
