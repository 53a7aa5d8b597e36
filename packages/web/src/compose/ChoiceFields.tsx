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
import { ListFields } from '../sheet/lists/ListFields';
import { fedSettings } from '../sheet/lists/sources';
import { Choice, Line, Lines, Tick } from '../ui/controls';
import { HeldChoices } from './HeldChoices';
import { set } from './edits';
import { checkSetting } from './settingChecks';

interface ChoiceFieldsProps {
  readonly column: Column<string>;
  readonly locale: LocaleFacts;
  readonly put: (to: Column<string>) => void;
  readonly sheet: SheetView;
  /** Whether the column is in the sheet already. */
  readonly isInSheet: boolean;
}

/** The choices of a column, and how several of them, or others, are stored. */
export function ChoiceFields({ column, locale, put, sheet, isInSheet }: ChoiceFieldsProps) {
  const { choices = [], list, own, separator } = column.settings;
  const putSetting = <K extends keyof ColumnSettings>(
    name: K,
    value: ColumnSettings<string>[K] | undefined | '',
  ): void => put({ ...column, settings: set(column.settings, name, value) });
  const putOwn = (mark: string): void =>
    put({ ...column, settings: { ...column.settings, own: mark } });
  const asked = readyMadeFor(column.heading);
  const pick = async (name: string): Promise<void> => {
    const codes = name === 'countries' ? (await import('./countries')).COUNTRY_CODES : [];
    putSetting('choices', readyMade(name as ReadyMade, locale.tag, codes));
  };
  return (
    <>
      <ListFields
        sheet={sheet}
        columns={sheet.columns}
        column={column}
        onPut={(fed) => put({ ...column, settings: fedSettings(column.settings, fed) })}
      />
      {!list && (
        <>
          {asked && choices.length === 0 && (
            <Button size="xs" variant="outline" alignSelf="start" onClick={() => void pick(asked)}>
              Use {READY_MADE.find(([id]) => id === asked)?.[1].toLowerCase()}
            </Button>
          )}
          <Lines
            label="Choices"
            hint="One a line; cells or a list with commas can be pasted"
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
        label="An answer of one’s own as well"
        checked={own !== undefined}
        onChange={(checked) => (checked ? putOwn('') : putSetting('own', undefined))}
      />
      {own !== undefined && (
        <Line
          label="Told apart by"
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
