import { Box, Text, useMediaQuery } from '@chakra-ui/react';
import type { RecordView, SheetView } from '@varn/contract';
import {
  columnLetters,
  fromWire,
  keyColumnsOf,
  kindOf,
  nextOrder,
  partOf,
  sayCount,
  sayCountOf,
  showValue,
  type LocaleFacts,
  type ViewOrder,
} from '@varn/core';
import { ArrowDown, ArrowUp } from 'lucide-react';
import { memo, useMemo, useRef, useState, type KeyboardEvent, type ReactNode } from 'react';
import { useRecent } from '../api/recent';
import { useRecords } from '../sheet/useRows';
import { ariaSort } from '../ui/ariaSort';
import { KindGlyph } from '../ui/KindGlyph';
import './landing.css';

const ROW_HEIGHT = 26;
const CARD_HEIGHT = 74;
/** Rows drawn at once, and how many of them stand above those in view. */
const MOST_IN_VIEW = 40;
const AROUND = 6;
/** Columns a card tells beside the record's name. */
const ON_CARD = 3;
/** From this width on the matches stand as a table. */
const WIDE = '(min-width: 48rem)';

/** A column that is shown, and where its value stands in a record. */
export interface ShownColumn {
  readonly column: SheetView['columns'][number];
  readonly at: number;
}

/** The columns of a choice, in its order; what is not in the sheet any more is left out. */
export function columnsShown(
  { columns }: SheetView,
  shown: readonly string[] | null,
): readonly ShownColumn[] {
  const all = columns.map((column, at) => ({ column, at }));
  if (!shown) return all;
  const chosen = shown.flatMap((id) => all.find(({ column }) => column.id === id) ?? []);
  return chosen.length > 0 ? chosen : all;
}

interface MatchesProps {
  readonly sheet: SheetView;
  /** In the order they stand. */
  readonly columns: readonly ShownColumn[];
  readonly locale: LocaleFacts;
  /** The question as rows are asked for. */
  readonly view: string;
  /** The record that stands in the form. */
  readonly openId: string | null;
  /** @param at its place among the matches */
  readonly onOpen: (at: number) => void;
  readonly order: ViewOrder;
  readonly onOrder: (order: ViewOrder) => void;
}

/** The records a question finds, in the landing row's place: Enter or a click opens one. */
export function Matches(props: MatchesProps) {
  const { sheet, view, openId, onOpen } = props;
  const [wide] = useMediaQuery([WIDE], { ssr: false });
  const height = wide ? ROW_HEIGHT : CARD_HEIGHT;
  const { scroller, first, last, onScroll, showPlace } = useWindow(height);
  const records = useRecords(sheet.id, first, view);
  const count = records.count ?? 0;
  const [at, setAt] = useState(0);
  const active = Math.min(at, Math.max(0, count - 1));
  const onKeyDown = (event: KeyboardEvent): void => {
    const steps: Readonly<Record<string, number>> = {
      ArrowDown: active + 1,
      ArrowUp: active - 1,
      PageDown: active + 5,
      PageUp: active - 5,
      Home: 0,
      End: count - 1,
    };
    const to = steps[event.key];
    if (event.key === 'Enter') onOpen(active);
    else if (to === undefined) return;
    else {
      const next = Math.min(Math.max(0, to), count - 1);
      setAt(next);
      showPlace(next);
    }
    event.preventDefault();
    event.stopPropagation();
  };
  const from = Math.min(first, Math.max(0, count - 1));
  const to = Math.min(last, count);
  const places = Array.from({ length: Math.max(0, to - from) }, (_, n) => from + n);
  const [before, after] = [from * height, Math.max(0, count - to) * height];
  const rowOf = (place: number) => ({
    place,
    record: records.at(place),
    row: records.gridRowAt(place),
    isOpen: records.at(place)?.id === openId,
    isAt: place === active,
    onOpen,
  });
  return (
    <Box
      className={`landing matches${openId === null ? '' : ' beside-form'}`}
      ref={scroller}
      tabIndex={0}
      role="region"
      aria-label={`Matches: ${sayCountOf(count, 'record')}`}
      onKeyDown={onKeyDown}
      onScroll={onScroll}
    >
      {wide ? (
        <MatchTable {...props} before={before} after={after}>
          {places.map((place) => (
            <MatchRow key={place} {...rowOf(place)} columns={props.columns} locale={props.locale} />
          ))}
        </MatchTable>
      ) : (
        <ul className="match-cards" style={{ paddingTop: before, paddingBottom: after }}>
          {places.map((place) => (
            <MatchCard key={place} {...rowOf(place)} sheet={sheet} locale={props.locale} />
          ))}
        </ul>
      )}
      {count === 0 && records.count !== undefined && (
        <Text p="3" color="ink.soft">
          No records match.
        </Text>
      )}
    </Box>
  );
}

/** The rows of a list that are in view, and a few around them. */
function useWindow(height: number) {
  const scroller = useRef<HTMLDivElement>(null);
  const [first, setFirst] = useState(0);
  return {
    scroller,
    first,
    last: first + MOST_IN_VIEW,
    onScroll: () =>
      setFirst(Math.max(0, Math.floor((scroller.current?.scrollTop ?? 0) / height) - AROUND)),
    /** Scrolls as far as is needed to have a row in view, under the heading. */
    showPlace: (place: number) => {
      const box = scroller.current;
      if (!box) return;
      const top = place * height;
      if (top < box.scrollTop) box.scrollTop = top;
      else if (top + 3 * height > box.scrollTop + box.clientHeight) {
        box.scrollTop = top + 3 * height - box.clientHeight;
      }
    },
  };
}

interface MatchTableProps extends MatchesProps {
  readonly before: number;
  readonly after: number;
  readonly children: ReactNode;
}

function MatchTable({ columns, order, onOrder, before, after, children }: MatchTableProps) {
  return (
    <table>
      <thead>
        <tr>
          <td className="number">Row</td>
          {columns.map(({ column, at }) => {
            const by = partOf(order, column.id);
            return (
              <th
                key={column.id}
                scope="col"
                className={kindOf(column).align}
                aria-sort={ariaSort(by)}
              >
                <button
                  type="button"
                  className="sorting"
                  aria-label={`Sort by ${column.heading}`}
                  title="With Shift: after the columns they are sorted by already"
                  onClick={({ shiftKey }) => onOrder(nextOrder(order, column.id, shiftKey))}
                >
                  <span className="letters">{columnLetters(at)}</span>
                  <span className="heading">
                    <KindGlyph kind={column.kind} size={12} /> {column.heading}
                    {by &&
                      (by.falling ? (
                        <ArrowDown size={12} aria-hidden />
                      ) : (
                        <ArrowUp size={12} aria-hidden />
                      ))}
                    {by && order.length > 1 && order.indexOf(by) + 1}
                  </span>
                </button>
              </th>
            );
          })}
        </tr>
      </thead>
      <tbody>
        <tr aria-hidden style={{ height: before }} />
        {children}
        <tr aria-hidden style={{ height: after }} />
      </tbody>
    </table>
  );
}

interface MatchRowProps {
  readonly place: number;
  readonly record: RecordView | undefined;
  readonly row: number | undefined;
  readonly isOpen: boolean;
  readonly isAt: boolean;
  readonly onOpen: (at: number) => void;
  readonly columns: readonly ShownColumn[];
  readonly locale: LocaleFacts;
}

const MatchRow = memo(function MatchRow(props: MatchRowProps) {
  const { place, record, row, isOpen, isAt, onOpen, columns, locale } = props;
  const recent = useRecent();
  const name = `stored${isOpen ? ' open' : ''}${isAt ? ' at' : ''}${record && recent.has(record.id) ? ' recent' : ''}`;
  return (
    <tr className={name} onClick={() => onOpen(place)} aria-current={isOpen ? 'true' : undefined}>
      <th className="number" scope="row">
        {row === undefined ? '' : sayCount(row)}
      </th>
      {columns.map(({ column, at }) => {
        const value = record ? fromWire(record.cells[at] ?? null, column) : null;
        return (
          <td
            key={column.id}
            className={typeof value === 'string' ? 'start' : kindOf(column).align}
          >
            <span>{record ? showValue(value, column, locale).slice(0, 200) : '…'}</span>
          </td>
        );
      })}
    </tr>
  );
});

interface MatchCardProps extends Omit<MatchRowProps, 'columns'> {
  readonly sheet: SheetView;
}

/** On a phone: the key, and the first columns that hold something. */
function MatchCard({ place, record, row, isOpen, onOpen, sheet, locale }: MatchCardProps) {
  const shown = useMemo(() => {
    if (!record) return [];
    return sheet.columns
      .map((column, n) => ({
        column,
        text: showValue(fromWire(record.cells[n] ?? null, column), column, locale),
      }))
      .filter(({ text }) => text !== '');
  }, [record, sheet.columns, locale]);
  const keys = new Set(keyColumnsOf(sheet.columns).map(({ id }) => id));
  const [name, ...rest] = [...shown].sort(
    (a, b) => Number(keys.has(b.column.id)) - Number(keys.has(a.column.id)),
  );
  return (
    <li className={isOpen ? 'open' : undefined}>
      <button
        type="button"
        onClick={() => onOpen(place)}
        aria-current={isOpen ? 'true' : undefined}
      >
        <span className="match-name">
          {name?.text ?? '…'}
          <small>{row === undefined ? '' : `row ${sayCount(row)}`}</small>
        </span>
        <span className="match-beside">
          {rest
            .slice(0, ON_CARD)
            .map(({ column, text }) => `${column.heading}: ${text.slice(0, 40)}`)
            .join(' · ')}
        </span>
      </button>
    </li>
  );
}
