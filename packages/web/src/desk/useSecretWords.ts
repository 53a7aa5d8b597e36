import type { CheckView, FormView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { isSecret } from '@varn/core';
import { useState } from 'react';
import { request, sayError } from '../api/client';
import type { Refusal } from '../form/FormBody';
import type { FormFilling } from '../form/useFilling';
import { useSteady } from '../form/useSteady';

const NOTHING: ReadonlyMap<string, Refusal> = new Map();

/** Asks the server of a secret word as its field is left: no browser knows it. */
export function useSecretWords(
  { id: formId }: FormView,
  filled: FormFilling,
): {
  /** Words that do not admit, by input. */
  readonly refused: ReadonlyMap<string, Refusal>;
  readonly leave: (inputId: string) => void;
} {
  const [refused, setRefused] = useState(NOTHING);
  const leave = useSteady((inputId: string) => {
    filled.leave(inputId);
    const input = filled.prepared.inputs.find(({ id }) => id === inputId);
    const text = filled.answers[inputId] ?? '';
    if (!input || !isSecret(input.ruled) || text === '') return;
    if (refused.get(inputId)?.text === text) return;
    const say = (message: string): void =>
      setRefused((before) => new Map([...before, [inputId, { message, text }]]));
    const body = { ...filled.submitNow().sent, words: true };
    request<CheckView>('POST', paths.checks(formId), body)
      .then(({ verdicts }) => {
        const found = verdicts.find(({ fieldId }) => fieldId === inputId);
        if (found) say(found.message);
      })
      .catch((error: unknown) => say(sayError(error)));
  });
  return { refused, leave };
}
