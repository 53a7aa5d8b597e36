import type { CountsView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import type { Question } from '@varn/core';
import { useEffect, useState } from 'react';
import { request, sayError } from '../api/client';

/** How long one types on before it is counted. */
const PAUSE_MS = 60;

/**
 * How many records a question finds, condition by condition: of the latest question, one request
 * after the other.
 *
 * @param seen changes when the records do, so that they are counted anew
 */
export function useCounts(
  sheetId: string,
  question: Question,
  seen: number,
): { counts: CountsView | null; isOld: boolean; failure: string } {
  const asked = JSON.stringify(question);
  const [told, setTold] = useState<{ counts: CountsView; of: string } | null>(null);
  const [failure, setFailure] = useState('');
  useEffect(() => {
    let isLate = false;
    const waiting = setTimeout(() => {
      request<CountsView>('POST', paths.counts(sheetId), JSON.parse(asked) as Question)
        .then((counts) => {
          if (isLate) return;
          setTold({ counts, of: asked });
          setFailure('');
        })
        .catch((error: unknown) => {
          if (!isLate) setFailure(sayError(error));
        });
    }, PAUSE_MS);
    return () => {
      isLate = true;
      clearTimeout(waiting);
    };
  }, [sheetId, asked, seen]);
  return { counts: told?.counts ?? null, isOld: told?.of !== asked, failure };
}
