import type { CellRefusal, FreeRowView, RecordView } from '@varn/contract';
import { columnLetters, kindOf, type CellStyle, type Column, type LocaleFacts } from '@varn/core';
import { memo, type ReactNode } from 'react';
import { freeFace, recordFace, type Face, type FaceGround } from '../cells/faces';
import { columnKey } from '../cells/plan';
import { fitText, fitWhole, NOT_FITTING } from '../columnWidths';
import type { ColumnLayout } from '../columnLayout';
import { isChosen } from '../selection';
import type { ShownTotal } from '../totals';
import type { Mark } from '../useCells';
import type { GridWriting } from '../useSheetGrid';
import { ResizeEdge } from './ResizeEdge';

/** A cell cut to its column is read out whole, but not for ever. */
const LONGEST_READ = 1000;

/** @param ids what tells the cells of one grid of a page from another's */
export const cellId = (ids: string, line: number, column: number): string =>
  `${ids}-${line}-${column}`;

/** What every row of the grid is told. */
export interface RowProps {
  readonly ids: string;
  readonly line: number;
  readonly gridRow: number;
  readonly top: number;
  readonly height: number;
  readonly layout: ColumnLayout;
  readonly firstColumn: number;
  readonly endColumn: number;
  readonly locale: LocaleFacts;
  /** The column of the active cell, -1 when it is in another row. */
  readonly activeColumn: number;
  /** The chosen stretches of columns, as `chosenOn` writes them. */
  readonly chosen: string;
}

interface CellProps {
  readonly id: string;
  readonly line: number;
  readonly index: number;
  readonly face: Face;
  readonly mark: Mark | undefined;
  readonly left: number;
  readonly width: number;
  readonly chosen: boolean;
  readonly active: boolean;
  readonly tall: boolean;
  /** Whether text may run on over the next cell, which is blank. */
  readonly runsOn?: boolean;
  /** How tall wrapped text may be: down over the cells below, as far as they are blank. */
  readonly room?: number;
}

function Cell(props: CellProps) {
  const { id, line, index, face, mark, left, width, chosen, active, tall, runsOn = false } = props;
  const whole = mark?.text ?? face.text;
  const { style } = face;
  const isWrapped = style?.wrapped === true && !mark && face.align === 'start';
  const { text, clipped } = fitted(whole, width, {
    isWhole: !mark && face.align === 'end',
    tall: tall || isWrapped,
    runsOn,
  });
  const hidden =
    text === NOT_FITTING && whole !== text ? `${whole}. Widen the column to see it.` : '';
  const said = [face.note, face.marked?.says ?? ''].filter((part) => part !== '').join(' ');
  const note = mark?.is === 'refused' ? `Not written: ${mark.message}` : said || hidden;
  const names = ['grid-cell', mark ? 'start' : face.align, mark ? mark.is : face.tone];
  if (mark?.strictness === 'ask') names.push('ask');
  if (face.isComputed) names.push('computed');
  if (clipped) names.push('clipped');
  if (chosen) names.push('chosen');
  if (active) names.push('active');
  if (style) names.push(...styleNames(style));
  if (face.marked && !mark) names.push('marked', `back-${face.marked.back}`);
  return (
    <div
      id={id}
      data-line={line}
      data-column={index}
      className={names.join(' ')}
      role="gridcell"
      aria-colindex={index + 1}
      aria-selected={chosen || active}
      aria-label={readOut(whole, text, note)}
      aria-invalid={mark?.is === 'refused' || undefined}
      title={note || undefined}
      style={isWrapped ? { left, width, height: props.room } : { left, width }}
    >
      {text}
    </div>
  );
}

const styleNames = ({ strong, heading, wrapped, back }: CellStyle): string[] => [
  ...(strong ? ['strong'] : []),
  ...(heading ? ['as-heading'] : []),
  ...(wrapped ? ['wrapped'] : []),
  ...(back ? [`back-${back}`] : []),
];

/** A text as it stands in its cell: numbers whole or not at all, others cut. */
function fitted(
  whole: string,
  width: number,
  { isWhole, tall, runsOn }: { isWhole: boolean; tall: boolean; runsOn: boolean },
): { text: string; clipped: boolean } {
  if (isWhole) return { text: fitWhole(whole, width), clipped: false };
  if (runsOn || tall) return { text: whole.slice(0, LONGEST_READ), clipped: tall };
  return fitText(whole, width);
}

function readOut(whole: string, text: string, note: string): string | undefined {
  if (note !== '') return `${whole.slice(0, LONGEST_READ)}. ${note}`;
  return text === whole ? undefined : whole.slice(0, LONGEST_READ);
}

interface FrameProps extends RowProps {
  readonly className: string;
  readonly number?: ReactNode;
  readonly cell: (index: number) => ReactNode;
}

/** A row: its number and its first columns stay, the others scroll. */
function Frame(props: FrameProps) {
  const { line, gridRow, top, height, layout, firstColumn, endColumn, className, cell } = props;
  const { frozen, frozenPx, numberPx, width } = layout;
  const whole = isWholeRow(props.chosen, layout.count);
  return (
    <div
      className={className}
      role="row"
      aria-rowindex={gridRow}
      style={{ transform: `translateY(${top}px)`, width, height }}
    >
      <div className="grid-frozen" style={{ width: numberPx + frozenPx }} role="presentation">
        <div
          className={whole ? 'grid-number chosen' : 'grid-number'}
          data-row-number={line}
          style={{ width: numberPx }}
          aria-hidden
        >
          {props.number ?? gridRow}
        </div>
        {range(0, frozen).map(cell)}
      </div>
      {range(Math.max(frozen, firstColumn), endColumn).map(cell)}
    </div>
  );
}

const isWholeRow = (chosen: string, count: number): boolean =>
  chosen.split(' ').includes(`0-${count - 1}`);

export const range = (from: number, to: number): number[] =>
  Array.from({ length: Math.max(0, to - from) }, (_, n) => from + n);

const place = (layout: ColumnLayout, index: number) => {
  const left = layout.offsets[index] ?? 0;
  return {
    left: layout.numberPx + left,
    width: (layout.offsets[index + 1] ?? left) - left,
  };
};

/** What is on its way or was refused in a row, by the column's key. */
type RowMarks = ReadonlyMap<string, Mark> | undefined;

interface RecordRowProps extends RowProps {
  readonly marks: RowMarks;
  readonly record: RecordView | undefined;
  readonly faces: FaceGround;
  readonly recent: boolean;
}

export const RecordRow = memo(function RecordRow(props: RecordRowProps) {
  const { line, record, faces, layout, activeColumn, chosen, marks, recent } = props;
  const tall = props.height > 40;
  return (
    <Frame
      {...props}
      className={`grid-row${recent ? ' recent' : ''}${record?.trial ? ' trial' : ''}`}
      {...(record?.trial && { number: 'trial' })}
      cell={(index) => {
        const column = faces.columns[index];
        if (!column) return null;
        return (
          <Cell
            key={column.id}
            id={cellId(props.ids, line, index)}
            line={line}
            index={index}
            face={recordFace(record?.cells ?? [], index, faces)}
            mark={marks?.get(column.id)}
            {...place(layout, index)}
            chosen={isChosen(chosen, index)}
            active={activeColumn === index}
            tall={tall}
          />
        );
      }}
    />
  );
});

interface FreeRowProps extends RowProps {
  readonly marks: RowMarks;
  /** The columns with a heading, by whose ids cells are told. */
  readonly columns: readonly Column[];
  readonly row: FreeRowView | undefined;
  /** How many rows below are blank in each column where text wraps, as `blankBelow` writes them. */
  readonly blank: string;
}

export const FreeRow = memo(function FreeRow(props: FreeRowProps) {
  const { line, row, locale, layout, activeColumn, chosen, marks } = props;
  const blank = readBlank(props.blank);
  const tall = props.height > 40;
  return (
    <Frame
      {...props}
      className="grid-row free"
      cell={(index) => {
        const face = freeFace(row?.cells[index] ?? null, locale);
        return (
          <Cell
            key={index}
            id={cellId(props.ids, line, index)}
            line={line}
            index={index}
            face={face}
            mark={marks?.get(columnKey(index, props))}
            {...place(layout, index)}
            chosen={isChosen(chosen, index)}
            active={activeColumn === index}
            tall={tall}
            runsOn={
              face.align === 'start' &&
              !face.style?.wrapped &&
              !row?.cells[index + 1] &&
              // What was refused there stands there all the same.
              !marks?.has(columnKey(index + 1, props))
            }
            room={props.height * (1 + (blank.get(index) ?? 0)) - 1}
          />
        );
      }}
    />
  );
});

/** The most rows that wrapped text runs down over. */
const MOST_BLANK = 8;

/** How many rows below are blank in each column of a row where text wraps: `0:2 4:1`. */
export function blankBelow(
  row: FreeRowView | undefined,
  below: (n: number) => FreeRowView | undefined,
): string {
  const wrapped = (row?.cells ?? []).flatMap((cell, column) =>
    cell?.style?.wrapped && cell.value !== null ? [column] : [],
  );
  return wrapped
    .map((column) => {
      let n = 0;
      while (n < MOST_BLANK && below(n + 1) && !below(n + 1)?.cells[column]) n += 1;
      return `${column}:${n}`;
    })
    .join(' ');
}

const readBlank = (blank: string): ReadonlyMap<number, number> =>
  new Map(
    blank.split(' ').map((each) => {
      const [column = -1, rows = 0] = each.split(':').map(Number);
      return [column, rows];
    }),
  );

interface DraftLineProps extends RowProps {
  readonly columns: readonly Column[];
  readonly answers: Readonly<Record<string, string>>;
  readonly verdicts: Readonly<Record<string, CellRefusal>>;
  readonly begun: boolean;
}

/** The line on which a record is begun: marked as not written yet. */
export const DraftLine = memo(function DraftLine(props: DraftLineProps) {
  const { line, columns, layout, activeColumn, chosen, answers, verdicts, begun } = props;
  return (
    <Frame
      {...props}
      className={begun ? 'grid-row draft begun' : 'grid-row draft'}
      number={begun ? '✎' : '+'}
      cell={(index) => {
        const column = columns[index];
        if (!column) return null;
        const verdict = verdicts[column.id];
        const text = answers[column.id] ?? '';
        const { filledBy } = kindOf(column);
        const face: Face = {
          text,
          align: 'start',
          tone: 'plain',
          note: filledBy === 'people' ? '' : 'Filled in when the record is written',
        };
        return (
          <Cell
            key={column.id}
            id={cellId(props.ids, line, index)}
            line={line}
            index={index}
            face={face}
            mark={
              verdict && {
                is: 'refused',
                text,
                message: verdict.message,
                strictness: verdict.strictness,
              }
            }
            {...place(layout, index)}
            chosen={isChosen(chosen, index)}
            active={activeColumn === index}
            tall={false}
          />
        );
      }}
    />
  );
});

/** A pinned row that stays at the foot of the grid: totals over the records of the view. */
export function TotalsRow({
  layout,
  firstColumn,
  endColumn,
  totals,
  label,
}: {
  layout: ColumnLayout;
  firstColumn: number;
  endColumn: number;
  totals: readonly (ShownTotal | null)[];
  label: string;
}) {
  const { frozen, frozenPx, numberPx, width } = layout;
  const cell = (index: number): ReactNode => {
    const total = totals[index];
    if (!total) return null;
    const { width } = place(layout, index);
    const labelled = `${total.label} ${total.text}`;
    const fits = fitWhole(labelled, width) === labelled;
    return (
      <div
        key={index}
        className="grid-cell end"
        role="gridcell"
        aria-colindex={index + 1}
        style={place(layout, index)}
        title={`${total.label}: ${total.text}`}
        aria-label={`${total.label} ${total.text}`}
      >
        {fits && <span className="grid-total-name">{total.label} </span>}
        {fitWhole(total.text, width)}
      </div>
    );
  };
  return (
    <div className="grid-totals" style={{ width }} role="rowgroup" aria-label={label}>
      <div role="row">
        <div className="grid-frozen" style={{ width: numberPx + frozenPx }} role="presentation">
          <div className="grid-number" style={{ width: numberPx }} aria-hidden>
            Σ
          </div>
          {range(0, frozen).map(cell)}
        </div>
        {range(Math.max(frozen, firstColumn), endColumn).map(cell)}
      </div>
    </div>
  );
}

interface LettersProps {
  readonly layout: ColumnLayout;
  /** What sets widths, for whoever may. */
  readonly resizing: Pick<GridWriting, 'resize' | 'fitWidths'> | null;
  readonly firstColumn: number;
  readonly endColumn: number;
}

/** The letters of the columns: press one to choose its column. */
export function Letters({ layout, firstColumn, endColumn, resizing }: LettersProps) {
  const { frozen, frozenPx, numberPx, width } = layout;
  const cell = (index: number): ReactNode => (
    <div key={index} className="grid-letter" data-letter={index} style={place(layout, index)}>
      {columnLetters(index)}
      {resizing && (
        <ResizeEdge
          width={place(layout, index).width}
          onResize={(to) => resizing.resize(index, to)}
          onFit={() => resizing.fitWidths(index, index)}
        />
      )}
    </div>
  );
  return (
    <div className="grid-letters" style={{ width }} aria-hidden>
      <div className="grid-frozen" style={{ width: numberPx + frozenPx }}>
        <div className="grid-number" style={{ width: numberPx }} />
        {range(0, frozen).map(cell)}
      </div>
      {range(Math.max(frozen, firstColumn), endColumn).map(cell)}
    </div>
  );
}
