import type { CheckView, FormView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import {
  formulasOf,
  type Answers,
  type CellValue,
  type LocaleFacts,
  type PreparedForm,
  type TextEvaluator,
} from '@varn/core';
import { useEffect, useMemo, useState } from 'react';
import { request } from '../api/client';

/** How long typing rests before formulas that read other cells are asked for. */
const REST_MS = 150;

type Make = typeof import('./evaluator').makeEvaluator;

/**
 * What computes a form's formulas: `null` where it has none, or while that is still being
 * loaded. What only the server can tell comes a moment after what it depends on.
 */
export function useEvaluator(
  form: FormView,
  prepared: PreparedForm<string>,
  answers: Answers,
  { locale, now, draft }: { locale: LocaleFacts; now: number; draft: boolean },
): { evaluator: TextEvaluator | null; isLoading: boolean } {
  const { columns, formulas } = form.sheet;
  const wanted = prepared.hasFormulas || Object.keys(formulas).length > 0;
  const [made, setMade] = useState<{ make: Make } | null>(null);
  const [elsewhere, setElsewhere] = useState<ReadonlyMap<string, CellValue>>(NOTHING);

  useEffect(() => {
    if (!wanted || made) return;
    let isGone = false;
    void import('./evaluator').then(({ makeEvaluator }) => {
      if (!isGone) setMade({ make: makeEvaluator });
    });
    return () => {
      isGone = true;
    };
  }, [wanted, made]);

  const evaluator = useMemo(() => {
    if (!made || !wanted) return null;
    return made.make({ columns, formulas, moment: { locale, now: () => now } }, elsewhere);
  }, [made, wanted, columns, formulas, locale, now, elsewhere]);

  const asks = useMemo(() => {
    const written = formulasOf(prepared.definition).map(({ formula }) => formula);
    return (evaluator?.asksFor(written).length ?? 0) > 0;
  }, [evaluator, prepared]);
  // Two sets of answers that read the same are asked about once.
  const asked = asks ? JSON.stringify(answers) : '';
  useEffect(() => {
    if (asked === '') return;
    let isGone = false;
    const rest = setTimeout(() => {
      const body = { answers: JSON.parse(asked) as Answers, ...(draft && { draft }) };
      request<CheckView>('POST', paths.checks(form.id), body).then(
        ({ values }) => {
          if (!isGone) setElsewhere((held) => withValues(held, values));
        },
        // Without an answer what was last told stands; the server decides at the submit.
        () => undefined,
      );
    }, REST_MS);
    return () => {
      isGone = true;
      clearTimeout(rest);
    };
  }, [asked, draft, form.id]);

  return { evaluator, isLoading: wanted && !made };
}

const NOTHING: ReadonlyMap<string, CellValue> = new Map();

function withValues(
  held: ReadonlyMap<string, CellValue>,
  values: Readonly<Record<string, CellValue>>,
): ReadonlyMap<string, CellValue> {
  const entries = Object.entries(values);
  const isSame =
    entries.length === held.size && entries.every(([text, each]) => held.get(text) === each);
  return isSame ? held : new Map(entries);
}
