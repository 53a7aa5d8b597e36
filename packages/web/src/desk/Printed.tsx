import { Portal } from '@chakra-ui/react';
import type { FormView, RecordView, RowsView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import {
  fromWire,
  kindOf,
  sayCount,
  sayCountOf,
  showValue,
  type Column,
  type LocaleFacts,
} from '@varn/core';
import { useEffect, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import { get, sayError } from '../api/client';
import type { OpenRecord } from './openRecord';
import './printed.css';

/** The most matches that are printed, and how many are read at a time. */
const MOST_PRINTED = 5000;
const PAGE = 1000;

interface PrintedRecordProps {
  readonly form: FormView;
  readonly record: OpenRecord;
  readonly name: string;
  readonly locale: LocaleFacts;
}

/** A stored record as a clean page; seen on paper only. */
export function PrintedRecord({ form, record, name, locale }: PrintedRecordProps) {
  const { sheet } = form;
  return (
    <Portal>
      <article className="printed">
        <h1>{name}</h1>
        <p>
          {form.name} · {sheet.name}, row {sayCount(record.row)}
        </p>
        <table>
          <tbody>
            {sheet.columns.map((column) => (
              <tr key={column.id}>
                <th scope="row">{column.heading}</th>
                <td>{showValue(record.cells[column.id] ?? null, column, locale) || '–'}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </article>
    </Portal>
  );
}

interface PrintedMatchesProps {
  readonly says: string;
  readonly columns: readonly { readonly column: Column; readonly at: number }[];
  readonly rows: Matched;
  readonly locale: LocaleFacts;
}

interface Matched {
  readonly count: number;
  readonly records: readonly RecordView[];
  readonly gridRows: readonly number[];
}

/** The matches as a table; seen on paper only. */
export function PrintedMatches({ says, columns, rows, locale }: PrintedMatchesProps) {
  const { count, records, gridRows } = rows;
  return (
    <Portal>
      <article className="printed">
        <h1>{says}</h1>
        <p>
          {records.length < count
            ? `The first ${sayCount(records.length)} of ${sayCountOf(count, 'record')}`
            : sayCountOf(count, 'record')}
        </p>
        <table className="ruled">
          <thead>
            <tr>
              <th scope="col">Row</th>
              {columns.map(({ column }) => (
                <th key={column.id} scope="col" className={kindOf(column).align}>
                  {column.heading}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {records.map((record, n) => (
              <tr key={record.id}>
                <td>{sayCount(gridRows[n] ?? 0)}</td>
                {columns.map(({ column, at }) => (
                  <td key={column.id} className={kindOf(column).align}>
                    {showValue(fromWire(record.cells[at] ?? null, column), column, locale)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </article>
    </Portal>
  );
}

/** Reads the matches of a view to be printed, and prints them once they stand there. */
export function usePrinting(sheetId: string, view: string) {
  const [printed, setPrinted] = useState<{ rows: Matched; of: string } | null>(null);
  const [failure, setFailure] = useState('');
  const isOwn = useRef(false);
  useEffect(() => {
    // Whoever prints something else afterwards does not get the matches again.
    const clear = (): void => {
      if (!isOwn.current) flushSync(() => setPrinted(null));
    };
    window.addEventListener('beforeprint', clear);
    return () => window.removeEventListener('beforeprint', clear);
  }, []);
  const print = async (): Promise<void> => {
    setFailure('');
    const [records, gridRows] = [[] as RecordView[], [] as number[]];
    let count = Infinity;
    try {
      while (records.length < Math.min(count, MOST_PRINTED)) {
        const page = await get<RowsView>(paths.rows(sheetId, records.length, PAGE, view));
        count = page.records.length === 0 ? records.length : page.count;
        records.push(...page.records);
        gridRows.push(...(page.gridRows ?? []));
      }
    } catch (error) {
      setFailure(sayError(error));
      return;
    }
    setPrinted({ rows: { count, records, gridRows }, of: view });
    // Once it is drawn.
    requestAnimationFrame(() =>
      setTimeout(() => {
        isOwn.current = true;
        window.print();
        isOwn.current = false;
      }),
    );
  };
  return { rows: printed?.of === view ? printed.rows : null, failure, print };
}
