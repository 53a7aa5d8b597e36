import type { FileRowsView, LookAtRows, UploadView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useEffect, useState } from 'react';
import useSWRImmutable from 'swr/immutable';
import { request } from '../api/client';

/** How far the rows that are read at once go on: half of them, so that any in sight are among them. */
const STEP_ROWS = 250;
/** How long scrolling rests before rows are read: each time the file is read up to there. */
const REST_MS = 120;

/**
 * Rows of an uploaded file as they are, around those that are seen.
 *
 * @param first the first row that is seen, from 1
 * @returns a row's cells by its number; `null` while they are on their way
 */
export function useFileRows(
  { id, encoding, delimiter }: UploadView,
  first: number,
): (row: number) => readonly string[] | null {
  const wanted = Math.floor((first - 1) / STEP_ROWS) * STEP_ROWS + 1;
  const [from, setFrom] = useState(wanted);
  useEffect(() => {
    const rest = setTimeout(() => setFrom(wanted), REST_MS);
    return () => clearTimeout(rest);
  }, [wanted]);
  const path = paths.fileRows(id);
  const { data } = useSWRImmutable([path, encoding, delimiter, from], () => {
    const order: LookAtRows = { encoding, delimiter, from, count: 2 * STEP_ROWS };
    return request<FileRowsView>('POST', path, order);
  });
  return (row) => data?.rows[row - from] ?? null;
}
