import { Box, HStack, Stack, Text } from '@chakra-ui/react';
import type { ColumnView, SheetView } from '@varn/contract';
import { MOST_WIDTH, LEAST_WIDTH, TOTALS, type Total } from '@varn/contract/limits';
import { paths } from '@varn/contract/paths';
import {
  asShown,
  type Column,
  isTyped,
  KIND_IDS,
  kindOf,
  KINDS,
  type ColumnSettings,
  type GivenSettings,
  type KindId,
} from '@varn/core';
import { useState } from 'react';
import { request } from '../../api/client';
import { Choice, Line } from '../../ui/controls';
import { KindGlyph } from '../../ui/KindGlyph';
import { RulesPart } from '../rules/RulesPart';
import { ListFields } from '../lists/ListFields';
import { fedSettings } from '../lists/sources';
import type { GridState } from '../useSheetGrid';
import { Conversion, type Change } from './Conversion';
import { FormatFields } from './FormatFields';
import { FormulaPart } from './FormulaPart';
import { MarksPart } from './MarksPart';

const FILLED_BY = { people: 'Filled in by people', varn: 'Filled in by Varn', formula: 'Computed' };

const TOTAL_NAMES: Readonly<Record<Total, string>> = {
  SUM: 'Sum',
  AVERAGE: 'Mean',
  COUNT: 'How many are filled in',
  MIN: 'Minimum',
  MAX: 'Maximum',
};

/** Kinds one can give a column; files come in through forms, and "computed" has its formula. */
const CHOSEN_KINDS = KIND_IDS.filter((id) => id !== 'file' && id !== 'computed');

interface ColumnPartProps {
  readonly grid: GridState;
  readonly index: number;
}

/** What a column holds, and how it is shown. */
export function ColumnPart({ grid, index }: ColumnPartProps) {
  const { sheet, mayShape } = grid;
  const column = sheet.columns[index];
  if (!column) {
    return (
      <Stack gap="4">
        <Text color="ink.soft">
          {sheet.hasRecords
            ? 'There is no column here.'
            : 'Columns here have no heading and no kind.'}
        </Text>
        {sheet.hasRecords && mayShape && <AddColumn grid={grid} />}
        {!sheet.hasRecords && mayShape && <WidthField grid={grid} index={index} />}
      </Stack>
    );
  }
  return mayShape ? (
    <Shape key={column.id} grid={grid} index={index} column={column} />
  ) : (
    <Told column={column} />
  );
}

function Told({ column }: { column: ColumnView }) {
  const kind = kindOf(column);
  const { unit } = column.settings;
  return (
    <Box>
      <Text fontWeight="600">{column.heading}</Text>
      <HStack>
        <KindGlyph kind={column.kind} />
        <Text>
          {kind.label}
          {unit === undefined ? '' : `, in ${unit}`}
        </Text>
      </HStack>
      <Text color="ink.soft">{FILLED_BY[kind.filledBy]}</Text>
    </Box>
  );
}

function Shape({ grid, index, column }: ColumnPartProps & { column: ColumnView }) {
  const { sheet, locale, cells } = grid;
  const [change, setChange] = useState<Change | null>(null);
  const send = (body: object): void =>
    void cells.send(({ id, revision }) =>
      request<SheetView>('PATCH', paths.column(id, column.id), { ...body, revision }),
    );
  const setKind = (kind: KindId): void => {
    if (kind !== column.kind) setChange({ kind, settings: settingsFor(kind, column.settings) });
  };
  const total = sheet.look.totals?.[column.id] ?? '';
  return (
    <Stack gap="4">
      <Line label="Heading" value={column.heading} onPut={(heading) => send({ heading })} />
      <HStack align="end">
        <Choice
          label="Kind"
          value={column.kind}
          options={[
            ...(column.kind === 'computed' || column.kind === 'file'
              ? [[column.kind, KINDS[column.kind].label] as const]
              : []),
            ...CHOSEN_KINDS.map((id) => [id, KINDS[id].label] as const),
          ]}
          onChange={(kind) => setKind(kind as KindId)}
        />
        <Box pb="2">
          <KindGlyph kind={column.kind} size={18} />
        </Box>
      </HStack>
      {change && (
        <Conversion
          sheet={sheet}
          column={column}
          change={change}
          onDone={(body) => {
            setChange(null);
            if (body) send(body);
          }}
        />
      )}
      <FormulaPart grid={grid} column={column} onChange={setChange} />
      {kindOf(column).typing === 'choice' && (
        <ListFields
          sheet={sheet}
          columns={sheet.columns}
          column={column}
          onPut={(list) => send({ settings: fedSettings(column.settings, list) })}
        />
      )}
      {(isTyped(column) || column.kind === 'computed') && column.kind !== 'file' && (
        <RulesPart
          sheet={sheet}
          column={shownColumn(column)}
          rules={column.settings.rules ?? []}
          isStored
          locale={locale}
          onPut={(rules) => {
            const { rules: _before, formula: _formula, ...settings } = column.settings;
            send({ settings: rules.length === 0 ? settings : { ...settings, rules } });
          }}
        />
      )}
      <MarksPart grid={grid} column={column} />
      <FormatFields column={column} locale={locale} onChange={(settings) => send({ settings })} />
      <Choice
        label="Total at the bottom"
        value={total}
        options={[['', 'Nothing'], ...TOTALS.map((each) => [each, TOTAL_NAMES[each]] as const)]}
        onChange={(chosen) => {
          const { [column.id]: _, ...others } = sheet.look.totals ?? {};
          const totals = chosen === '' ? others : { ...others, [column.id]: chosen };
          void cells.send(({ id, revision, look }) =>
            request('PATCH', paths.sheet(id), { revision, look: { ...look, totals } }),
          );
        }}
      />
      <WidthField grid={grid} index={index} />
      <AddColumn grid={grid} place={index + 1} />
    </Stack>
  );
}

/** Settings that mean the same for another kind stay. */
function settingsFor(kind: KindId, settings: ColumnSettings<string>): GivenSettings {
  const { choices, list, rules, unit, decimals, grouping } = settings;
  const isChoice = kind === 'oneChoice' || kind === 'severalChoices';
  const isNumber = kind === 'number' || kind === 'wholeNumber' || kind === 'money';
  return {
    ...(rules && { rules }),
    ...(isChoice && choices && { choices }),
    ...(isChoice && list && { list }),
    ...(isNumber && unit !== undefined && { unit }),
    ...(isNumber && decimals !== undefined && { decimals }),
    ...(isNumber && grouping !== undefined && { grouping }),
  };
}

function WidthField({ grid, index }: { grid: GridState; index: number }) {
  const { sheet } = grid;
  const id = sheet.columns[index]?.id ?? sheet.looseColumns[index - sheet.columns.length];
  const [wrong, setWrong] = useState<string>();
  if (id === undefined) return null;
  const held = sheet.look.widths?.[id];
  return (
    <Line
      label="Width in pixels"
      width="140px"
      value={held === undefined ? '' : String(held)}
      problem={wrong}
      onPut={(text) => {
        const width = Number(text);
        const fits = Number.isInteger(width) && width >= LEAST_WIDTH && width <= MOST_WIDTH;
        setWrong(fits ? undefined : `From ${LEAST_WIDTH} to ${MOST_WIDTH}.`);
        if (fits) grid.resize(index, width);
      }}
    />
  );
}

/** Adds a column by its heading; it holds text until it is told otherwise. */
function AddColumn({ grid, place }: { grid: GridState; place?: number }) {
  const [heading, setHeading] = useState('');
  return (
    <Line
      label={place === undefined ? 'Add a column' : 'Add a column after it'}
      hint="Its heading, then Enter"
      value={heading}
      onPut={(text) => {
        setHeading(text);
        void grid.cells
          .send(({ id, revision }) =>
            request('POST', paths.columns(id), {
              heading: text,
              kind: 'text',
              revision,
              ...(place !== undefined && { place }),
            }),
          )
          .then(() => setHeading(''));
      }}
    />
  );
}

/** A computed column is held to rules as one of the kind it is shown as. */
const shownColumn = (column: ColumnView): Column<string> => ({
  ...column,
  kind: asShown(column).kind,
});
