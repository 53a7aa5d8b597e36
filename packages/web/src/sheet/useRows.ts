import type { RecordView, RowsView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import useSWR from 'swr';
import { PAGE_ROWS } from '../api/events';

const empty: RowsView = { from: 0, count: 0, records: [] };

/**
 * The records from a position on, as far as they have been read: two pages cover any window of
 * the grid. Gives a function that answers `undefined` for a record that is still on its way.
 */
export function useRows(
  sheetId: string,
  first: number,
): (position: number) => RecordView | undefined {
  const page = Math.floor(first / PAGE_ROWS) * PAGE_ROWS;
  const { data: here = empty } = useSWR<RowsView>(paths.rows(sheetId, page, PAGE_ROWS));
  const { data: after = empty } = useSWR<RowsView>(
    paths.rows(sheetId, page + PAGE_ROWS, PAGE_ROWS),
  );
  return (position) => {
    const { from, records } = position < page + PAGE_ROWS ? here : after;
    return records[position - from];
  };
}
