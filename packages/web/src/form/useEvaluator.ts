import type { FormView } from '@varn/contract';
import type { Elsewhere, LocaleFacts, PreparedForm, TextEvaluator } from '@varn/core';
import { useEffect, useMemo, useState } from 'react';

type Made = typeof import('./evaluator');
/** Loaded once: the next record's form has it at once. */
let loaded: Made | null = null;

/** What computes a form's formulas in the browser. */
export interface Evaluating {
  /** `null` where the form has no formulas, or while what reads them is still being loaded. */
  readonly formulas: InstanceType<Made['TextFormulas']> | null;
  readonly evaluator: TextEvaluator | null;
  readonly isLoading: boolean;
}

/** Makes a form's formulas ready. @param elsewhere what is known of those that read other cells */
export function useEvaluator(
  { sheet: { columns } }: FormView,
  { hasFormulas }: PreparedForm<string>,
  { locale, now }: { locale: LocaleFacts; now: number },
  elsewhere: Elsewhere,
): Evaluating {
  const wanted = hasFormulas || columns.some(({ settings }) => settings.formula !== undefined);
  const [made, setMade] = useState<Made | null>(() => loaded);

  useEffect(() => {
    if (!wanted || made) return;
    let isGone = false;
    void import('./evaluator').then((module) => {
      loaded = module;
      if (!isGone) setMade(() => module);
    });
    return () => {
      isGone = true;
    };
  }, [wanted, made]);

  const formulas = useMemo(() => {
    if (!made || !wanted) return null;
    return new made.TextFormulas({
      columns,
      moment: { locale, now: () => now },
    });
  }, [made, wanted, columns, locale, now]);
  const evaluator = useMemo(
    () => (made && formulas ? new made.TextEvaluator(formulas, elsewhere) : null),
    [made, formulas, elsewhere],
  );
  return { formulas, evaluator, isLoading: wanted && !made };
}
