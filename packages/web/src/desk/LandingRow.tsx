import { useMediaQuery } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import {
  columnLetters,
  fromWire,
  kindOf,
  landingRow,
  rowOfPosition,
  sayCount,
  showValue,
  type Cells,
  type Column,
  type Filling,
  type LandingCell,
  type LocaleFacts,
} from '@varn/core';
import { memo, useEffect, useMemo, useRef } from 'react';
import { landsOnTop } from '../api/applyEvent';
import { useRecent } from '../api/recent';
import { KindGlyph } from '../ui/KindGlyph';
import './landing.css';
import { stripWindow } from './stripWindow';

/** From this width and height on the strip of the sheet has room. */
const WIDE = '(min-width: 48rem) and (min-height: 36rem)';

/** How many of the stored records stand above the row about to be written. */
const STORED_SHOWN = 3;

const WORDS: Readonly<Record<LandingCell['state'], string>> = {
  value: '',
  blank: '',
  missing: 'missing',
  refused: 'not right yet',
  awaited: '…',
  byVarn: '',
};

/** A stored record as it stands, and the columns that the form writes. */
export interface LandingRecord {
  readonly row: number;
  readonly cells: Cells;
  readonly written: ReadonlySet<string>;
}

interface LandingRowProps {
  readonly form: FormView;
  readonly filling: Filling;
  readonly locale: LocaleFacts;
  /** The column of the field that has the focus. */
  readonly columnId: string | null;
  /** The stored record that is corrected; none where a new one is entered. */
  readonly record?: LandingRecord | null;
  /** Opens a stored record in the form; absent where none can be. */
  readonly onOpen?: (recordId: string) => void;
}

/**
 * The sheet's heading, the records beside which a new one lands, and the row about to be written,
 * as it will be stored. No live region: it changes at each key, and who listens hears the fields.
 */
export const LandingRow = memo(function LandingRow(props: LandingRowProps) {
  const { form, filling, locale, columnId, onOpen, record = null } = props;
  const { sheet, last, nextNumbers } = form;
  const cells = useMemo(
    () => landingRow(sheet.columns, filling, { locale, nextNumbers, stored: record ?? undefined }),
    [sheet.columns, filling, locale, nextNumbers, record],
  );
  const [wide] = useMediaQuery([WIDE], { ssr: false });
  return wide ? (
    <Strip
      form={form}
      last={last}
      cells={cells}
      columnId={columnId}
      locale={locale}
      record={record}
      onOpen={onOpen}
    />
  ) : (
    <Folded
      columns={sheet.columns}
      cells={cells}
      row={record?.row ?? landingPlace(form)}
      isStored={record !== null}
    />
  );
});

/** The grid's row a new record comes to. */
const landingPlace = (form: FormView): number =>
  rowOfPosition(form.sheet, landsOnTop(form) ? 0 : form.sheet.count);

interface StripProps extends Pick<FormView, 'last'> {
  readonly form: FormView;
  readonly cells: readonly LandingCell[];
  readonly columnId: string | null;
  readonly locale: LocaleFacts;
  readonly record: LandingRecord | null;
  readonly onOpen: ((recordId: string) => void) | undefined;
}

function Strip({ form, last, cells, columnId, locale, record, onOpen }: StripProps) {
  const { sheet } = form;
  const recent = useRecent();
  const scroller = useRef<HTMLDivElement>(null);
  const focused = sheet.columns.findIndex(({ id }) => id === columnId);
  const [from, to] = stripWindow(sheet.columns.length, focused);
  const columns = useMemo(() => sheet.columns.slice(from, to), [sheet.columns, from, to]);
  useEffect(() => {
    if (columnId !== null) keepInView(scroller.current, columnId);
  }, [columnId, from]);
  const isOnTop = landsOnTop(form) && !record;
  const skipped = isOnTop ? 0 : Math.max(0, last.records.length - STORED_SHOWN);
  const row = (
    <tr className="landing-row">
      <th className="number" scope="row">
        {sayCount(record?.row ?? landingPlace(form))}
      </th>
      {cells.slice(from, to).map((cell, index) => (
        <LandingRowCell
          key={cell.columnId}
          {...cell}
          column={columns[index]}
          here={cell.columnId === columnId}
        />
      ))}
    </tr>
  );
  return (
    <div className="landing" ref={scroller} tabIndex={0} role="region" aria-label="Landing row">
      <table>
        <thead>
          <tr>
            <th className="number" scope="col">
              <span className="sr-only">Row</span>
            </th>
            {columns.map((column, index) => (
              <HeadingCell
                key={column.id}
                column={column}
                letters={columnLetters(from + index)}
                here={column.id === columnId}
              />
            ))}
          </tr>
        </thead>
        <tbody>
          {isOnTop && row}
          {record ? (
            <StoredRow
              recordId=""
              onOpen={undefined}
              row={record.row}
              cells={sheet.columns.map(({ id }) => record.cells[id] ?? null)}
              columns={columns}
              from={from}
              locale={locale}
              recent={false}
            />
          ) : (
            last.records
              .slice(skipped, skipped + STORED_SHOWN)
              .map((stored, index) => (
                <StoredRow
                  key={stored.id}
                  recordId={stored.id}
                  onOpen={onOpen}
                  row={rowOfPosition(sheet, last.from + skipped + index)}
                  cells={stored.cells}
                  columns={columns}
                  from={from}
                  locale={locale}
                  recent={recent.has(stored.id)}
                />
              ))
          )}
          {!isOnTop && row}
        </tbody>
      </table>
    </div>
  );
}

interface HeadingCellProps {
  readonly column: Column;
  readonly letters: string;
  readonly here: boolean;
}

const HeadingCell = memo(function HeadingCell({ column, letters, here }: HeadingCellProps) {
  return (
    <th
      data-column={column.id}
      className={`${kindOf(column).align}${here ? ' here' : ''}`}
      scope="col"
    >
      <span className="letters">{letters}</span>
      <span className="heading">
        <KindGlyph kind={column.kind} size={12} /> {column.heading}
      </span>
    </th>
  );
});

/** Scrolls the strip, and nothing else, so that a column stands in view. */
function keepInView(scroller: HTMLElement | null, columnId: string): void {
  const heading = scroller?.querySelector<HTMLElement>(`th[data-column="${CSS.escape(columnId)}"]`);
  const number = scroller?.querySelector<HTMLElement>('th.number');
  if (!scroller || !heading) return;
  const left = heading.offsetLeft - (number?.offsetWidth ?? 0);
  const right = heading.offsetLeft + heading.offsetWidth;
  if (right <= scroller.clientWidth) scroller.scrollLeft = 0;
  else if (left < scroller.scrollLeft) scroller.scrollLeft = Math.max(0, left - 80);
  else if (right > scroller.scrollLeft + scroller.clientWidth) {
    scroller.scrollLeft = right - scroller.clientWidth + 80;
  }
}

interface StoredRowProps {
  readonly recordId: string;
  readonly onOpen: ((recordId: string) => void) | undefined;
  readonly row: number;
  readonly cells: FormView['last']['records'][number]['cells'];
  readonly columns: readonly Column[];
  /** The index of the first of them in the sheet. */
  readonly from: number;
  readonly locale: LocaleFacts;
  readonly recent: boolean;
}

const StoredRow = memo(function StoredRow(props: StoredRowProps) {
  const { recordId, onOpen, row, cells, columns, from, locale, recent } = props;
  return (
    <tr className={recent ? 'stored recent' : 'stored'}>
      <th className="number" scope="row">
        {onOpen ? (
          <button
            type="button"
            className="opens"
            aria-label={`Open row ${sayCount(row)}`}
            onClick={() => onOpen(recordId)}
          >
            {sayCount(row)}
          </button>
        ) : (
          sayCount(row)
        )}
      </th>
      {columns.map((column, index) => {
        const value = fromWire(cells[from + index] ?? null, column);
        return (
          <td
            key={column.id}
            className={typeof value === 'string' ? 'start' : kindOf(column).align}
          >
            <span>{showValue(value, column, locale).slice(0, 200)}</span>
          </td>
        );
      })}
    </tr>
  );
});

interface LandingRowCellProps extends LandingCell {
  readonly column: Column | undefined;
  readonly here: boolean;
}

const LandingRowCell = memo(function LandingRowCell({
  state,
  text,
  column,
  here,
}: LandingRowCellProps) {
  const align = column && state === 'value' ? kindOf(column).align : 'start';
  return (
    <td className={`${state} ${align}${here ? ' here' : ''}`}>
      <span>{text.slice(0, 200) || WORDS[state]}</span>
    </td>
  );
});

/** On a phone: the row about to be written as a list of heading and value, folded at first. */
function Folded({
  columns,
  cells,
  row,
  isStored,
}: {
  columns: readonly Column[];
  cells: readonly LandingCell[];
  row: number;
  isStored: boolean;
}) {
  const filled = cells.filter(({ state }) => state === 'value').length;
  return (
    <details className="landing-list">
      <summary>
        Row {sayCount(row)}, not {isStored ? 'updated' : 'written'} yet: {filled} of{' '}
        {columns.length} cells filled in
      </summary>
      <dl>
        {cells.map((cell, index) => (
          <FoldedCell key={cell.columnId} {...cell} heading={columns[index]?.heading ?? ''} />
        ))}
      </dl>
    </details>
  );
}

const FoldedCell = memo(function FoldedCell({
  heading,
  state,
  text,
}: LandingCell & { heading: string }) {
  return (
    <div>
      <dt>{heading}</dt>
      <dd className={state}>{text.slice(0, 200) || WORDS[state] || '–'}</dd>
    </div>
  );
});
