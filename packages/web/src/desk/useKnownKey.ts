import type { FormView, KnownRecordView, NamedRecordView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { keyColumnsOf } from '@varn/core';
import { useEffect, useState } from 'react';
import { request } from '../api/client';
import type { FormFilling } from '../form/useFilling';

/** How long one types on before it is looked up. */
const PAUSE_MS = 200;

/**
 * The stored record that has the key typed into a new one.
 *
 * @param isOn whether it is asked at all
 */
export function useKnownKey(
  { sheet }: FormView,
  { answers, untouched, prepared }: FormFilling,
  isOn: boolean,
): NamedRecordView | null {
  const [known, setKnown] = useState<{ record: NamedRecordView | null; of: string } | null>(null);
  const inputOf = new Map(prepared.inputs.map(({ id, column }) => [column.id, id]));
  const typed = keyColumnsOf(sheet.columns).map(({ id }) => {
    const input = inputOf.get(id) ?? '';
    return [id, untouched.has(input) ? '' : (answers[input] ?? '').trim()] as const;
  });
  const isWhole = isOn && typed.length > 0 && typed.every(([, text]) => text !== '');
  const asked = isWhole ? JSON.stringify(Object.fromEntries(typed)) : '';
  useEffect(() => {
    if (asked === '') return;
    let isLate = false;
    const waiting = setTimeout(() => {
      const body = { answers: JSON.parse(asked) as Record<string, string> };
      request<KnownRecordView>('POST', paths.known(sheet.id), body)
        .then(({ record = null }) => !isLate && setKnown({ record, of: asked }))
        // It is an offer: without an answer to it, the submit still tells of the key.
        .catch(() => !isLate && setKnown(null));
    }, PAUSE_MS);
    return () => {
      isLate = true;
      clearTimeout(waiting);
    };
  }, [asked, sheet.id]);
  return known?.of === asked && asked !== '' ? known.record : null;
}
