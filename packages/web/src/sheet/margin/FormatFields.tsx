import { Field, Stack, Textarea } from '@chakra-ui/react';
import {
  serialOfDate,
  showValue,
  USUAL_CURRENCY,
  type Column,
  type ColumnSettings,
  type LocaleFacts,
  sayFirstNumbers,
  PLAIN_PATTERN,
} from '@varn/core';
import { useState } from 'react';
import { Choice, Line, Tick } from '../../ui/controls';
import {
  formatParts,
  named,
  PATTERNS,
  readGroups,
  sayGroups,
  withSetting,
  type FormatPart,
} from './formats';

interface FormatFieldsProps {
  readonly column: Pick<Column, 'kind' | 'settings'>;
  readonly locale: LocaleFacts;
  readonly onChange: (settings: ColumnSettings) => void;
}

const CURRENCIES = named(Intl.supportedValuesOf('currency'), 'currency');
/** A moment with all of its parts different, to show patterns by. */
const EXAMPLE = serialOfDate({ year: 2026, month: 3, day: 7 }) + 14.5 / 24;

/** How the values of a column are shown; what is stored stays as it is. */
export function FormatFields({ column, locale, onChange }: FormatFieldsProps) {
  const { kind, settings } = column;
  const parts = formatParts(kind, settings);
  const set = <K extends keyof ColumnSettings>(
    key: K,
    value: ColumnSettings[K] | undefined,
  ): void => onChange(withSetting(settings, key, value));
  const has = (part: FormatPart): boolean => parts.includes(part);
  return (
    <Stack gap="3">
      {has('currency') && (
        <Choice
          label="Currency"
          value={settings.currency ?? USUAL_CURRENCY}
          options={CURRENCIES}
          onChange={(code) => set('currency', code)}
        />
      )}
      {has('decimals') && (
        <Choice
          label="Decimals"
          value={String(settings.decimals ?? '')}
          options={[
            ['', 'As typed'],
            ...Array.from({ length: 11 }, (_, n): [string, string] => [String(n), String(n)]),
          ]}
          onChange={(text) => set('decimals', text === '' ? undefined : Number(text))}
        />
      )}
      {has('grouping') && (
        <Tick
          label="Group thousands"
          checked={settings.grouping ?? false}
          onChange={(on) => set('grouping', on)}
        />
      )}
      {has('percent') && (
        <Tick
          label="As a percentage"
          checked={settings.percent ?? false}
          onChange={(on) => set('percent', on)}
        />
      )}
      {has('unit') && (
        <Line label="Unit" value={settings.unit ?? ''} onPut={(text) => set('unit', text.trim())} />
      )}
      {has('datePattern') && <PatternField {...{ column, locale, onChange }} />}
      {has('digitGroups') && <GroupsField {...{ column, locale, onChange }} />}
      {has('country') && (
        <Line
          label="Numbers without a country code belong to"
          hint="Two letters of ISO 3166-1, such as GB"
          value={settings.country ?? ''}
          problem={countryProblem(settings.country)}
          onPut={(text) => set('country', text.trim().toUpperCase())}
        />
      )}
      {has('pattern') && (
        <Line
          label="Pattern"
          hint={`Numbered ${sayFirstNumbers(settings.pattern ?? PLAIN_PATTERN)} …`}
          mono
          value={settings.pattern ?? ''}
          onPut={(text) => set('pattern', text.trim())}
        />
      )}
      {has('choices') && !settings.list && (
        <ChoicesField key={(settings.choices ?? []).join('\n')} {...{ column, locale, onChange }} />
      )}
    </Stack>
  );
}

function countryProblem(code: string | undefined): string | undefined {
  if (code === undefined || code === '') return undefined;
  const isCountry =
    /^[A-Z]{2}$/.test(code) && new Intl.DisplayNames('en', { type: 'region' }).of(code) !== code;
  return isCountry ? undefined : `‘${code}’ is not a country. Write its two letters, such as GB.`;
}

function PatternField({ column, locale, onChange }: FormatFieldsProps) {
  const { settings } = column;
  const shown = column.kind === 'computed' ? (settings.shownAs ?? 'date') : column.kind;
  const part = shown === 'time' ? 'time' : shown === 'date' ? 'date' : 'moment';
  const value = part === 'time' ? EXAMPLE % 1 : part === 'date' ? Math.floor(EXAMPLE) : EXAMPLE;
  const example = (datePattern: string): string =>
    showValue(
      value,
      { id: '', heading: '', kind: part, settings: datePattern === '' ? {} : { datePattern } },
      locale,
    );
  const held = settings.datePattern ?? '';
  const known = PATTERNS[part];
  return (
    <Stack gap="2">
      <Choice
        label="Written as"
        value={held}
        options={['', ...known, ...(held === '' || known.includes(held) ? [] : [held])].map(
          (pattern) => [pattern, example(pattern)],
        )}
        onChange={(pattern) => onChange(withSetting(settings, 'datePattern', pattern))}
      />
      <Line
        label="Custom pattern"
        hint="d, m, y, h, s: d mmm yyyy"
        mono
        value={held}
        problem={example(held).startsWith('#') ? `‘${held}’ is not a pattern.` : undefined}
        onPut={(pattern) => onChange(withSetting(settings, 'datePattern', pattern.trim()))}
      />
    </Stack>
  );
}

function GroupsField({ column, onChange }: FormatFieldsProps) {
  const [wrong, setWrong] = useState<string | undefined>();
  return (
    <Line
      label="Digits in groups of"
      hint="From the left: 4 4 4. Only for display; stored as typed."
      mono
      value={sayGroups(column.settings.digitGroups)}
      problem={wrong}
      onPut={(text) => {
        const groups = readGroups(text);
        setWrong(
          groups ? undefined : `‘${text}’: whole numbers with spaces between, such as 4 4 4.`,
        );
        if (groups) {
          const put = groups.length === 0 ? undefined : groups;
          onChange(withSetting(column.settings, 'digitGroups', put));
        }
      }}
    />
  );
}

function ChoicesField({ column, onChange }: FormatFieldsProps) {
  const held = (column.settings.choices ?? []).join('\n');
  const [typed, setTyped] = useState(held);
  return (
    <Field.Root>
      <Field.Label>Choices</Field.Label>
      <Field.HelperText mt="0">One per line, in the order they are offered</Field.HelperText>
      <Textarea
        size="sm"
        rows={6}
        bg="leaf"
        borderColor="edge"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => {
          if (typed === held) return;
          const choices = [
            ...new Set(
              typed
                .split('\n')
                .map((choice) => choice.trim())
                .filter((each) => each !== ''),
            ),
          ];
          onChange({ ...column.settings, choices });
        }}
      />
    </Field.Root>
  );
}
