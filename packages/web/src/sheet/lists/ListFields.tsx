import { Box, HStack, Stack, Text } from '@chakra-ui/react';
import type { SheetView, TriedListView } from '@varn/contract';
import { sayCountOf, type Column, type ListOrder, type ListSettings } from '@varn/core';
import { useEffect, useState } from 'react';
import { sayError } from '../../api/client';
import { tryList } from '../../api/lists';
import { useSheet, useWorkbook } from '../../api/resources';
import { Choice, Line, Tick } from '../../ui/controls';
import { Notice } from '../../ui/Notice';
import { RangeField } from '../RangeField';
import { KeepCurrent } from './KeepCurrent';
import { Part, Tied, type TiedRow } from './sourceParts';
import {
  columnSource,
  goingDown,
  headingsIn,
  isGoingDown,
  isSource,
  keptFormula,
  kindOfSource,
  sheetOf,
  sourceOf,
  withRecords,
  type SourceKind,
} from './sources';
import { useSourceSheet } from './useSourceSheet';

interface ListFieldsProps {
  readonly sheet: SheetView;
  /** The columns of the sheet, and those that are to come. */
  readonly columns: readonly Column[];
  readonly column: Column<string>;
  readonly onPut: (list: ListSettings | undefined) => void;
  /** Computes a column that is not in the sheet yet; gives whether it is one. */
  readonly onPlannedKept?: ((column: Column, formula: string) => boolean) | undefined;
}

/** What is said of a list otherwise; a part that is blank is not said any more. */
type Changes = { readonly [Name in keyof ListSettings]?: ListSettings[Name] | '' | undefined };

const KINDS: readonly (readonly [SourceKind, string])[] = [
  ['typed', 'Typed here'],
  ['column', 'A column of a sheet'],
  ['range', 'A range or a name'],
  ['own', 'What was answered before'],
];
const ORDERS: readonly (readonly [ListOrder | '', string])[] = [
  ['', 'As in the sheet'],
  ['rising', 'A to Z'],
  ['falling', 'Z to A'],
  ['newest', 'Newest first'],
  ['used', 'Most used first'],
];

/** What feeds the choices of a column, and how they are offered. */
export function ListFields({ sheet, columns, column, onPut, onPlannedKept }: ListFieldsProps) {
  const { list } = column.settings;
  const { data: workbook } = useWorkbook(sheet.workbookId);
  const own = sourceOf(sheet.name, column.heading);
  const [begun, setBegun] = useState<SourceKind | null>(null);
  const kind = begun ?? kindOfSource(list, own);
  const source = useSourceSheet(list?.source, sheet);
  if (!workbook) return null;

  const choose = (next: SourceKind): void => {
    setBegun(next);
    if (next === 'typed') onPut(undefined);
    if (next === 'own') onPut({ source: own });
  };
  /** Another sheet: what was said of the rows of the one before is not said of its own. */
  const feed = (from: string): void => {
    setBegun(null);
    const isSame = !isSource(from) || (sheetOf(from) ?? sheet.name) === source?.name;
    const {
      source: _before,
      label: _l,
      second: _s,
      where: _w,
      narrowed: _n,
      fills: _f,
      ...rest
    } = list ?? { source: '' };
    onPut({ ...(isSame && list ? list : rest), source: from });
  };
  const put = (change: Changes): void => {
    if (!list) return;
    const changed: Record<string, unknown> = { ...list, ...change };
    const kept = Object.entries(changed).filter(([, value]) => value !== undefined && value !== '');
    onPut(Object.fromEntries(kept) as unknown as ListSettings);
  };
  return (
    <Stack gap="3">
      <Choice
        label="Choices come from"
        value={kind}
        options={KINDS}
        onChange={(value) => choose(value as SourceKind)}
      />
      {kind === 'column' && (
        <ColumnSource
          key={list?.source ?? ''}
          sheets={withRecords(workbook)}
          idOf={(name) => workbook.sheets.find((each) => each.name === name)?.id}
          list={list}
          onPut={feed}
        />
      )}
      {kind === 'range' && (
        <>
          <RangeField
            label="Range or name"
            workbookId={workbook.id}
            sheetId={source?.id ?? sheet.id}
            anySheet
            value={list?.source ?? ''}
            onPut={(range) => range !== '' && feed(goingDown(range))}
          />
          {list && goingDown(list.source) !== list.source && (
            <Tick
              label="Extends down as far as there are values"
              checked={isGoingDown(list.source)}
              onChange={() => feed(goingDown(list.source))}
            />
          )}
        </>
      )}
      {list && kind !== 'typed' && (
        <>
          <Tried key={JSON.stringify(list)} sheetId={sheet.id} list={list} />
          <Shaped {...{ list, source, sheet, columns, column, put, onPlannedKept }} />
        </>
      )}
    </Stack>
  );
}

interface ColumnSourceProps {
  readonly sheets: readonly (readonly [string, string])[];
  readonly idOf: (name: string) => string | undefined;
  readonly list: ListSettings | undefined;
  readonly onPut: (source: string) => void;
}

function ColumnSource({ sheets, idOf, list, onPut }: ColumnSourceProps) {
  const held = list ? columnSource(list.source) : null;
  const [name, setName] = useState(held?.sheet ?? '');
  const { data: sheet } = useSheet(name === '' ? undefined : idOf(name));
  return (
    <HStack align="end" wrap="wrap">
      <Choice
        label="Sheet"
        value={name}
        options={[['', 'Choose one'], ...sheets]}
        onChange={setName}
      />
      {sheet && (
        <Choice
          label="Column"
          value={held?.sheet === name ? held.heading : ''}
          options={[['', 'Choose one'], ...headingsIn(sheet)]}
          onChange={(heading) => heading !== '' && onPut(sourceOf(sheet.name, heading))}
        />
      )}
    </HStack>
  );
}

/** What the list offers with these settings, and what it leaves out. */
function Tried({ sheetId, list }: { sheetId: string; list: ListSettings }) {
  const [told, setTold] = useState<TriedListView | null>(null);
  const [failure, setFailure] = useState('');
  useEffect(() => {
    let isGone = false;
    tryList(sheetId, list, 5).then(
      (tried) => !isGone && setTold(tried),
      (error: unknown) => !isGone && setFailure(sayError(error)),
    );
    return () => {
      isGone = true;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- drawn anew where the list is another
  }, []);
  if (failure !== '') return <Notice tone="refuse">{failure}</Notice>;
  if (!told) return null;
  if (told.problem !== undefined) return <Notice tone="refuse">{told.problem}</Notice>;
  const { items, counts } = told;
  const skipped = [
    counts.blanks > 0 ? `${sayCountOf(counts.blanks, 'blank')} skipped` : '',
    counts.doubles > 0 ? `${sayCountOf(counts.doubles, 'double')} dropped` : '',
    counts.errors > 0 ? `${sayCountOf(counts.errors, 'error')} left out` : '',
  ].filter((each) => each !== '');
  const first = items.map(({ value, label }) => label ?? String(value)).join(', ');
  return (
    <Box role="status" fontSize="13px" borderStartWidth="3px" borderColor="brass" ps="3">
      <Text fontWeight="600">{sayCountOf(counts.items, 'choice')}</Text>
      {first !== '' && (
        <Text color="ink.soft" overflowWrap="anywhere">
          {first}
          {counts.items > items.length ? ', …' : ''}
        </Text>
      )}
      {skipped.length > 0 && <Text color="ink.soft">{skipped.join(', ')}</Text>}
    </Box>
  );
}

interface ShapedProps {
  readonly list: ListSettings;
  readonly source: SheetView | undefined;
  readonly sheet: SheetView;
  readonly columns: readonly Column[];
  readonly column: Column<string>;
  readonly put: (change: Changes) => void;
  readonly onPlannedKept: ListFieldsProps['onPlannedKept'];
}

/** How a list is offered: labels, order, what narrows it, what it brings along. */
function Shaped({ list, source, sheet, columns, column, put, onPlannedKept }: ShapedProps) {
  const ofRecords = source?.hasRecords === true && columnSource(list.source) !== null;
  const others = columns.filter(({ id }) => id !== column.id);
  const fills = (list.fills ?? []).map(({ from, columnId }) => ({ part: from, columnId }));
  const fill = (rows: readonly TiedRow[]): void =>
    put({ fills: none(rows.map(({ part, columnId }) => ({ from: part, columnId }))) });
  return (
    <>
      <Choice
        label="Order"
        value={list.order ?? ''}
        options={ORDERS}
        onChange={(order) => put({ order: order === '' ? undefined : (order as ListOrder) })}
      />
      <Part
        label="Shown as"
        none="The value itself"
        of={list.label}
        {...{ source, ofRecords }}
        onPut={(label) => put({ label })}
      />
      <Part
        label="Second line"
        none="None"
        of={list.second}
        {...{ source, ofRecords }}
        onPut={(second) => put({ second })}
      />
      <Tied
        title="Narrowed by"
        add="Narrow it by another field"
        rows={(list.narrowed ?? []).map(({ by, columnId }) => ({ part: by, columnId }))}
        words={['Rows where', 'equals the field']}
        {...{ source, others }}
        onPut={(rows) =>
          put({ narrowed: none(rows.map(({ part, columnId }) => ({ by: part, columnId }))) })
        }
      />
      <Tied
        title="Fills other fields"
        add="Fill another field as well"
        rows={fills}
        words={['Put', 'into']}
        {...{ source, others }}
        onPut={fill}
        beside={(row, at) => (
          <KeepCurrent
            formula={keptFormula(list, column.heading, row.part)}
            target={others.find(({ id }) => id === row.columnId)}
            sheet={sheet}
            onPlannedKept={onPlannedKept}
            onKept={() => fill(fills.toSpliced(at, 1))}
          />
        )}
      />
      {ofRecords && (
        <Line
          label="Only rows where"
          hint="A condition on the source’s own row, such as 'In use'"
          mono
          value={list.where ?? ''}
          onPut={(where) => put({ where: where.trim() })}
        />
      )}
      <Line
        label="Always first"
        hint="Values listed before all others, separated by commas"
        value={(list.first ?? []).join(', ')}
        onPut={(text) =>
          put({
            first: none(
              text
                .split(',')
                .map((each) => each.trim())
                .filter((each) => each !== ''),
            ),
          })
        }
      />
      <Choice
        label="A value that is not on the list"
        value={list.strictness ?? 'refuse'}
        options={[
          ['refuse', 'Is refused'],
          ['ask', 'Is asked about'],
          ['note', 'Is accepted with a note'],
        ]}
        onChange={(value) =>
          put({
            strictness: value === 'refuse' ? undefined : (value as 'ask' | 'note'),
          })
        }
      />
      <Tick
        label="Recently chosen first"
        checked={list.recent === true}
        onChange={(checked) => put(flag('recent', checked))}
      />
      <Tick
        label="Match letter case and accents"
        checked={list.exact === true}
        onChange={(checked) => put(flag('exact', checked))}
      />
      {list.label === undefined && (
        <Tick
          label="Others are taken, and join the list"
          checked={list.adds === true}
          onChange={(checked) => put(flag('adds', checked))}
        />
      )}
    </>
  );
}

const flag = (name: 'recent' | 'exact' | 'adds', checked: boolean): Changes => ({
  [name]: checked ? true : undefined,
});

const none = <T,>(values: readonly T[]): readonly T[] | undefined =>
  values.length === 0 ? undefined : values;
