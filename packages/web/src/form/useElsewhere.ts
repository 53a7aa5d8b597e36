import type { CheckView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import {
  formulasOf,
  type Elsewhere,
  type Filling,
  type PreparedForm,
  type TextEvaluator,
  type TextFormulas,
} from '@varn/core';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { request } from '../api/client';
import { insist } from '../api/insist';
import type { FilledIn, Submission } from './filledIn';

/** What was told, and of which answers. */
interface Told {
  readonly of: FilledIn | null;
  readonly values: Elsewhere['values'];
}

const NOTHING: Told = { of: null, values: new Map() };

/** What is known of the formulas that only the server can compute. */
export function useTold(filled: FilledIn): {
  elsewhere: Elsewhere;
  tell: (of: FilledIn, values: Elsewhere['values']) => void;
  /** What was told may be out of date: another record begins. */
  forget: () => void;
} {
  const [told, setTold] = useState(NOTHING);
  const isCurrent = told.of === filled;
  return {
    elsewhere: useMemo(() => ({ values: told.values, isCurrent }), [told.values, isCurrent]),
    tell: useCallback((of: FilledIn, values: Elsewhere['values']) => setTold({ of, values }), []),
    forget: useCallback(() => setTold(NOTHING), []),
  };
}

interface Asking {
  readonly formId: string;
  readonly draft: boolean;
  /** The record that is corrected, if one is. */
  readonly recordId: string | undefined;
  readonly prepared: PreparedForm<string>;
  readonly formulas: TextFormulas | null;
  readonly evaluator: TextEvaluator | null;
  readonly filled: FilledIn;
  readonly filling: Filling;
  readonly submissionOf: (filled: FilledIn) => Submission;
  readonly tell: (of: FilledIn, values: Elsewhere['values']) => void;
}

/**
 * Asks the server for what it alone can compute, as soon as the answers that it depends on are
 * others: the latest answers, one request at a time.
 */
export function useElsewhere(asking: Asking): void {
  const { prepared, formulas, evaluator, filled, filling } = asking;
  const elsewhere = useMemo(
    () => formulas?.elsewhere(formulasOf(prepared.definition).map(({ formula }) => formula)) ?? [],
    [formulas, prepared],
  );
  const isOld = useMemo(() => {
    const { whole, awaited } = filling;
    return elsewhere.some((each) => evaluator?.waits(each, whole, awaited) === true);
  }, [elsewhere, evaluator, filling]);

  const latest = useRef(asking);
  useEffect(() => {
    latest.current = asking;
  });
  const wanted = useRef<FilledIn | null>(null);
  const isAsking = useRef(false);
  const isGone = useRef(false);
  useEffect(() => {
    isGone.current = false;
    return () => {
      isGone.current = true;
    };
  }, []);

  useEffect(() => {
    if (!isOld) return;
    wanted.current = filled;
    if (isAsking.current) return;
    isAsking.current = true;
    askInTurn(latest, wanted, () => isGone.current)
      // Refused, it is asked again with the next answers; what is written is decided by the server.
      .catch(() => undefined)
      .finally(() => {
        isAsking.current = false;
      });
  }, [isOld, filled]);
}

/** Asks until the latest answers were told of. Without an answer what was told last stands, as old. */
async function askInTurn(
  latest: { readonly current: Asking },
  wanted: { current: FilledIn | null },
  isGone: () => boolean,
): Promise<void> {
  while (wanted.current && !isGone()) {
    // Each attempt asks of the answers as they stand then.
    const ask = async (): Promise<void> => {
      const { formId, draft, recordId, filled, formulas, submissionOf, tell } = latest.current;
      wanted.current = null;
      const { sent, filling } = submissionOf(filled);
      const body = { ...sent, ...(draft && { draft }), ...(recordId && { recordId }) };
      const { values, cells } = await request<CheckView>('POST', paths.checks(formId), body);
      const told = Object.entries(values).map(([text, value]) => {
        const read = formulas?.readIn(text, { ...filling.whole, ...cells }) ?? '';
        return [text, { value, read }] as const;
      });
      if (!isGone()) tell(filled, new Map(told));
    };
    await insist(ask, { isGone });
  }
}
