import { Stack, Text } from '@chakra-ui/react';
import type { CellLook, EditCells, FreeCellView, FreeRowEdit, Written } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import {
  KINDS,
  sayCountOf,
  type CellBack,
  type CellStyleChange,
  type ColumnSettings,
  type KindId,
} from '@varn/core';
import { newId } from '../../api/newId';
import { request } from '../../api/client';
import { Choice, Tick } from '../../ui/controls';
import { lookOf } from '../cells/faces';
import { freeSpotsIn, MOST_STYLED } from '../cells/freeSpots';
import { boxesOf } from '../selection';
import type { GridState } from '../useSheetGrid';
import { FormatFields } from './FormatFields';

/** What a cell outside of the records can be shown as. */
const SHOWN_AS: readonly KindId[] = [
  'text',
  'number',
  'wholeNumber',
  'money',
  'date',
  'time',
  'moment',
];

const BACKS: Readonly<Record<CellBack, string>> = {
  brass: 'Gold',
  pine: 'Green',
  slate: 'Blue',
  amber: 'Orange',
  madder: 'Red',
};

const MARKS = [
  ['heading', 'Heading'],
  ['strong', 'Bold'],
  ['wrapped', 'Wrap text'],
] as const;

interface CellLookPartProps {
  readonly grid: GridState;
  /** The active cell, whose look is shown. */
  readonly cell: FreeCellView | null;
}

/** How the chosen cells outside of the records look: as what they are shown, and how they stand out. */
export function CellLookPart({ grid, cell }: CellLookPartProps) {
  const { lines, locale, selection, cells } = grid;
  const spots = freeSpotsIn(boxesOf(selection), lines);
  if (!spots) {
    return (
      <Text color="ink.soft">
        Choose up to {sayCountOf(MOST_STYLED, 'cell')} to change how they look.
      </Text>
    );
  }
  // Changes are told apart from what was there, so that no revision of a row is asked for.
  const write = (look: CellLook | null | undefined, style?: CellStyleChange): void => {
    const writeId = newId();
    const edits = spots.map(({ row: number, columns }): FreeRowEdit => {
      const each = <T,>(value: T) =>
        Object.fromEntries(columns.map((column) => [String(column), value]));
      return {
        row: number,
        cells: {},
        ...(look !== undefined && { shown: each(look) }),
        ...(style && { styles: each(style) }),
      };
    });
    void cells.send(({ id, revision }) => {
      const body: EditCells = { writeId, revision, rows: edits };
      return request<Written>('POST', paths.cells(id), body);
    });
  };
  const setStyle = (style: CellStyleChange): void => write(undefined, style);
  const style = cell?.style ?? {};
  const count = spots.reduce((sum, { columns }) => sum + columns.length, 0);
  return (
    <Stack gap="2" borderTopWidth="1px" pt="3">
      <Text fontWeight="600">{count > 1 ? `Look of ${sayCountOf(count, 'cell')}` : 'Look'}</Text>
      {MARKS.map(([name, label]) => (
        <Tick
          key={name}
          label={label}
          checked={style[name] === true}
          onChange={(on) => setStyle({ [name]: on })}
        />
      ))}
      <Choice
        label="Background"
        value={style.back ?? ''}
        options={[['', 'None'], ...Object.entries(BACKS)]}
        onChange={(back) => setStyle({ back: back as CellBack | '' })}
      />
      <Choice
        label="Shown as"
        value={cell?.kind ?? ''}
        options={[
          ['', 'As typed'],
          ...SHOWN_AS.map((id): [string, string] => [id, KINDS[id].label]),
        ]}
        onChange={(kind) => write(kind === '' ? null : { kind: kind as KindId })}
      />
      {cell?.kind && (
        <FormatFields
          column={lookOf(cell)}
          locale={locale}
          onChange={(settings) =>
            write({ kind: cell.kind ?? 'text', settings: settings as ColumnSettings<never> })
          }
        />
      )}
    </Stack>
  );
}
