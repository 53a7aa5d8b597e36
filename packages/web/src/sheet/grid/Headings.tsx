import type { SheetView } from '@varn/contract';
import { kindOf, partOf } from '@varn/core';
import type { ReactNode } from 'react';
import { ariaSort } from '../../ui/ariaSort';
import { KindGlyph } from '../../ui/KindGlyph';
import type { ColumnLayout } from '../columnLayout';
import { isChosen } from '../selection';
import type { OwnView } from '../view/sheetView';
import { cellId, range } from './rows';

interface HeadingsProps {
  readonly ids: string;
  readonly sheet: SheetView;
  readonly line: number;
  readonly layout: ColumnLayout;
  readonly firstColumn: number;
  readonly endColumn: number;
  readonly activeColumn: number;
  readonly chosen: string;
  readonly view: OwnView;
  /** A heading that is being typed, over its cell. */
  readonly children?: ReactNode;
}

/** The heading row: name and kind of each column, and what one's own view does to it. */
export function Headings(props: HeadingsProps) {
  const { sheet, line, layout, firstColumn, endColumn, activeColumn, chosen, view } = props;
  const { frozen, frozenPx, numberPx, offsets, width } = layout;
  const cell = (index: number): ReactNode => {
    const column = sheet.columns[index];
    if (!column) return null;
    const left = offsets[index] ?? 0;
    const own = (offsets[index + 1] ?? left) - left;
    const ordered = partOf(view.order, column.id);
    const filtered = view.filters.some(({ columnId }) => columnId === column.id);
    const kind = kindOf(column).label.toLowerCase();
    const names = ['grid-cell', kindOf(column).align];
    if (isChosen(chosen, index)) names.push('chosen');
    if (activeColumn === index) names.push('active');
    return (
      <div
        key={column.id}
        id={cellId(props.ids, line, index)}
        data-line={line}
        data-column={index}
        className={names.join(' ')}
        role="columnheader"
        aria-colindex={index + 1}
        aria-sort={ariaSort(ordered)}
        title={`${column.heading}: ${kind}`}
        style={{ left: numberPx + left, width: own }}
      >
        <KindGlyph kind={column.kind} />
        <span>{column.heading}</span>
        {ordered && (
          <span className="grid-own">
            {ordered.falling ? '↓' : '↑'}
            {view.order.length > 1 && view.order.indexOf(ordered) + 1}
          </span>
        )}
        {filtered && <span className="grid-own">∴</span>}
      </div>
    );
  };
  return (
    <div className="grid-headings" role="rowgroup" style={{ width }}>
      <div role="row" aria-rowindex={sheet.headingRow}>
        <div className="grid-frozen" style={{ width: numberPx + frozenPx }} role="presentation">
          <div
            className="grid-number"
            style={{ width: numberPx }}
            data-row-number={line}
            aria-hidden
          >
            {sheet.headingRow}
          </div>
          {range(0, frozen).map(cell)}
        </div>
        {range(Math.max(frozen, firstColumn), endColumn).map(cell)}
      </div>
      {props.children}
    </div>
  );
}
