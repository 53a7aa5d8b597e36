import { Button } from '@chakra-ui/react';
import {
  choicesIn,
  READY_MADE,
  readyMade,
  readyMadeFor,
  type Column,
  type ColumnSettings,
  type LocaleFacts,
  type ReadyMade,
} from '@varn/core';
import type { SheetView } from '@varn/contract';
import { useState } from 'react';
import { ListFields } from '../sheet/lists/ListFields';
import { fedSettings } from '../sheet/lists/sources';
import { Choice, Line, Lines, Tick } from '../ui/controls';
import { HeldChoices } from './HeldChoices';
import { PartsOfCountry } from './PartsOfCountry';
import { set } from './edits';
import { checkSetting } from './settingChecks';

interface ChoiceFieldsProps {
  readonly column: Column<string>;
  readonly locale: LocaleFacts;
  readonly put: (to: Column<string>) => void;
  readonly sheet: SheetView;
  /** The columns of the sheet, and those that are to come. */
  readonly columns: readonly Column<string>[];
  /** Whether the column is in the sheet already. */
  readonly isInSheet: boolean;
  /** Computes a column that is not in the sheet yet; gives whether it is one. */
  readonly onPlannedKept?: ((column: Column, formula: string) => boolean) | undefined;
}

/** The choices of a column, and how several of them, or others, are stored. */
export function ChoiceFields(props: ChoiceFieldsProps) {
  const { column, columns, locale, put, sheet, isInSheet, onPlannedKept } = props;
  const { choices = [], list, own, separator } = column.settings;
  const putSetting = <K extends keyof ColumnSettings>(
    name: K,
    value: ColumnSettings<string>[K] | undefined | '',
  ): void => put({ ...column, settings: set(column.settings, name, value) });
  const putOwn = (mark: string): void =>
    put({ ...column, settings: { ...column.settings, own: mark } });
  const asked = readyMadeFor(column.heading);
  const [wantsParts, setWantsParts] = useState(false);
  const pick = async (name: string): Promise<void> => {
    setWantsParts(name === 'parts');
    if (name === 'parts') return;
    const codes = name === 'countries' ? (await import('./countries')).COUNTRY_CODES : [];
    putSetting('choices', readyMade(name as ReadyMade, locale.tag, codes));
  };
  const parts = wantsParts && (
    <PartsOfCountry
      workbookId={sheet.workbookId}
      locale={locale}
      others={columns.filter(({ id }) => id !== column.id)}
      onChoices={(parts) => {
        setWantsParts(false);
        putSetting('choices', parts);
      }}
      onList={(fed) => put({ ...column, settings: fedSettings(column.settings, fed) })}
    />
  );
  return (
    <>
      <ListFields
        sheet={sheet}
        columns={columns}
        column={column}
        onPlannedKept={onPlannedKept}
        onPut={(fed) => put({ ...column, settings: fedSettings(column.settings, fed) })}
      />
      {!list && (
        <>
          {asked && choices.length === 0 && !wantsParts && (
            <Button size="xs" variant="outline" alignSelf="start" onClick={() => void pick(asked)}>
              Use {READY_MADE.find(([id]) => id === asked)?.[1].toLowerCase()}
            </Button>
          )}
          {asked === 'parts' && parts}
          <Lines
            label="Choices"
            hint="One per line; cells or a list with commas can be pasted"
            value={choices.join('\n')}
            check={(text) => checkSetting('choices', choicesIn(text))}
            onPut={(text) => putSetting('choices', choicesIn(text))}
          />
          <Choice
            label="Or a ready-made list"
            value=""
            options={[['', 'Pick one'], ...READY_MADE]}
            onChange={(name) => void (name !== '' && pick(name))}
          />
          {asked !== 'parts' && parts}
          {isInSheet && (
            <HeldChoices
              sheetId={sheet.id}
              column={column}
              onTake={(texts) => putSetting('choices', [...choices, ...texts])}
            />
          )}
        </>
      )}
      <Tick
        label="Other answers are allowed"
        checked={own !== undefined}
        onChange={(checked) => (checked ? putOwn('') : putSetting('own', undefined))}
      />
      {own !== undefined && (
        <Line
          label="Mark it with"
          hint="Stands before such answers in the cell; may be blank"
          value={own}
          check={(text) => checkSetting('own', text)}
          onPut={putOwn}
        />
      )}
      {column.kind === 'severalChoices' && (
        <Line
          label="Between several, in the cell"
          hint="; unless it says something else"
          value={separator ?? ''}
          check={(text) => (text === '' ? undefined : checkSetting('separator', text))}
          onPut={(text) => putSetting('separator', text)}
        />
      )}
    </>
  );
}
