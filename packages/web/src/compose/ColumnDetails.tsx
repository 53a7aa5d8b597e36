import { Box, HStack, Text } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import {
  KINDS,
  kindOf,
  type Column,
  type ColumnSettings,
  type FieldBlock,
  type KindId,
  type LocaleFacts,
  sayFirstNumbers,
  PLAIN_PATTERN,
} from '@varn/core';
import { useMemo, useState } from 'react';
import { request, sayError } from '../api/client';
import { Conversion } from '../sheet/margin/Conversion';
import { Choice, Line, Tick } from '../ui/controls';
import { Notice } from '../ui/Notice';
import { ChoiceFields } from './ChoiceFields';
import { FormulaLine } from './FormulaLine';
import { RenameColumn } from './RenameColumn';
import { newId } from '../api/newId';
import { changeColumn, set, storeApart } from './edits';
import { StoredChoice } from './StoredChoice';
import { checkHeading, checkSetting } from './settingChecks';
import type { Composing } from './useCompose';

interface ColumnDetailsProps {
  readonly composing: Composing;
  readonly column: Column<string>;
  /** The field that writes it. */
  readonly block: FieldBlock;
  readonly locale: LocaleFacts;
  /** The sheet as the form will leave it. */
  readonly sheet: SheetView;
  readonly onConverted: () => void;
  readonly writtenBy: Readonly<Record<string, readonly string[]>>;
}

const KIND_OPTIONS = Object.values(KINDS).map(({ id, label }) => [id, label] as const);

/** What the field's column is: its heading, its kind, and what its kind can be told. */
export function ColumnDetails(props: ColumnDetailsProps) {
  const { composing, column, block, locale, sheet, writtenBy, onConverted } = props;
  const { label } = block;
  const isPlanned = !composing.inSheet.has(column.id);
  const [kind, setKind] = useState<KindId | null>(null);
  const put = (to: Column<string>): void => composing.edit((layout) => changeColumn(layout, to));
  const putSetting = <K extends keyof ColumnSettings>(
    name: K,
    value: ColumnSettings<string>[K] | undefined | '',
  ): void => put({ ...column, settings: set(column.settings, name, value) });
  const [failure, setFailure] = useState('');
  const change = useMemo(() => (kind === null ? {} : { kind }), [kind]);
  const convert = (wanted: object | null): void => {
    setKind(null);
    if (wanted === null) return;
    const body = { ...wanted, revision: sheet.revision };
    request('PATCH', paths.column(sheet.id, column.id), body).then(onConverted, (error: unknown) =>
      setFailure(sayError(error)),
    );
  };
  const keepPlanned = (target: Column, formula: string): boolean => {
    if (composing.inSheet.has(target.id)) return false;
    put({ ...target, kind: 'computed', settings: { formula, follows: true } });
    return true;
  };
  const others = writtenBy[column.id] ?? [];
  const { typing } = kindOf(column);
  const { formula } = column.settings;
  const isInDraft = composing.layout.columns.some(({ id }) => id === column.id);
  return (
    <>
      <HStack gap="3" align="start">
        {isPlanned ? (
          <Line
            label="Heading"
            value={column.heading}
            check={checkHeading}
            onPut={(heading) => put({ ...column, heading: heading.trim() })}
          />
        ) : (
          <Box>
            <Text fontSize="12.5px" color="ink.soft">
              Column {column.heading}
            </Text>
            {label !== undefined && (
              <RenameColumn {...{ sheet, column }} heading={label} onRenamed={onConverted} />
            )}
          </Box>
        )}
      </HStack>
      <Choice
        label="Kind"
        value={kind ?? column.kind}
        options={KIND_OPTIONS}
        onChange={(value) => {
          if (isPlanned) put({ ...column, kind: value as KindId, settings: {} });
          else setKind(value === column.kind ? null : (value as KindId));
        }}
      />
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
      {others.length > 0 && (
        <Text fontSize="12.5px" color="ink.soft">
          Also written by {others.join(', ')}.
        </Text>
      )}
      {kind !== null && !isPlanned && (
        <Conversion sheet={sheet} column={column} change={change} onDone={convert} />
      )}
      {typing === 'choice' && (
        <ChoiceFields
          column={column}
          columns={composing.columns}
          locale={locale}
          put={put}
          sheet={sheet}
          isInSheet={!isPlanned}
          onPlannedKept={keepPlanned}
        />
      )}
      {isPlanned && column.kind === 'severalChoices' && (
        <StoredChoice
          value="together"
          onOther={() => composing.edit((layout) => storeApart(layout, block, column, newId))}
        />
      )}
      {(column.kind === 'number' || column.kind === 'wholeNumber') && (
        <Line
          label="Unit"
          value={column.settings.unit ?? ''}
          check={(text) => checkSetting('unit', text.trim())}
          onPut={(text) => putSetting('unit', text.trim())}
        />
      )}
      {column.kind === 'money' && (
        <Line
          label="Currency"
          hint="Three letters of ISO 4217"
          value={column.settings.currency ?? ''}
          check={(text) =>
            text.trim() === '' ? undefined : checkSetting('currency', text.trim().toUpperCase())
          }
          onPut={(text) => putSetting('currency', text.trim().toUpperCase())}
        />
      )}
      {column.kind === 'runningNumber' && (
        <Line
          label="Pattern"
          hint={`Numbered ${sayFirstNumbers(column.settings.pattern ?? PLAIN_PATTERN)} …`}
          value={column.settings.pattern ?? ''}
          check={(text) => checkSetting('pattern', text.trim())}
          onPut={(text) => putSetting('pattern', text.trim())}
        />
      )}
      {column.kind === 'computed' && isInDraft && (
        <FormulaLine
          composing={composing}
          label="Formula"
          hint="'Deposit' * 'Quantity'"
          value={formula ?? ''}
          onPut={(text) => putSetting('formula', text)}
        />
      )}
      <Tick
        label="Identifies the record (key)"
        checked={column.settings.key ?? false}
        onChange={(checked) => putSetting('key', checked || undefined)}
      />
    </>
  );
}
