import type { FileRowsView, LookAtRows, UploadView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useEffect, useState } from 'react';
import useSWRImmutable from 'swr/immutable';
import { request } from '../api/client';

/** Rows that are read at once. */
const CHUNK_ROWS = 250;
/** How long scrolling rests before rows are read: each time the file is read up to there. */
const REST_MS = 120;

/**
 * Rows of an uploaded file as they are, around those that are seen.
 *
 * @param first the first row that is seen, from 1
 * @returns a row's cells by its number; `null` while they are on their way
 */
export function useFileRows(
  upload: UploadView,
  first: number,
): (row: number) => readonly string[] | null {
  const chunk = Math.floor((first - 1) / CHUNK_ROWS);
  const [rested, setRested] = useState(chunk);
  useEffect(() => {
    const rest = setTimeout(() => setRested(chunk), REST_MS);
    return () => clearTimeout(rest);
  }, [chunk]);
  const here = useChunk(upload, rested);
  const next = useChunk(upload, rested + 1);
  return (row) => {
    const of = Math.floor((row - 1) / CHUNK_ROWS);
    const held = of === rested ? here : of === rested + 1 ? next : undefined;
    return held?.rows[(row - 1) % CHUNK_ROWS] ?? null;
  };
}

function useChunk(upload: UploadView, chunk: number): FileRowsView | undefined {
  const { id, encoding, delimiter, fileRows } = upload;
  const from = chunk * CHUNK_ROWS + 1;
  const path = paths.fileRows(id);
  const { data } = useSWRImmutable(
    from <= fileRows ? [path, encoding, delimiter, from] : null,
    () => {
      const order: LookAtRows = { encoding, delimiter, from, count: CHUNK_ROWS };
      return request<FileRowsView>('POST', path, order);
    },
  );
  return data;
}
