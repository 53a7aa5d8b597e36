import type { BrokenView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import type { Rule } from '@varn/core';
import useSWR from 'swr';
import { request } from '../../api/client';

/**
 * The stored values that break rules of a column, or rules it may get; told anew when records
 * change.
 *
 * @param rules none: nothing is asked
 */
export function useBroken(
  sheetId: string,
  columnId: string,
  rules: readonly Rule[],
): BrokenView | undefined {
  const path = paths.brokenRules(sheetId, columnId);
  // As a path of the column it is read anew with all that depends on the sheet’s records.
  const key = rules.length > 0 ? `${path}#${JSON.stringify(rules)}` : null;
  const { data } = useSWR(key, () => request<BrokenView>('POST', path, { rules }), {
    keepPreviousData: true,
    revalidateOnMount: true,
  });
  return key === null ? undefined : data;
}
