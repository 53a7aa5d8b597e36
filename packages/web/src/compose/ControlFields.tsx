import { HStack, Stack } from '@chakra-ui/react';
import {
  controlOf,
  controlsOf,
  fromWire,
  kindOf,
  toWire,
  type Block,
  type Column,
  type ControlDetails,
  type ControlId,
  type DETAIL_BOUNDS,
  type FieldBlock,
  type GroupBlock,
  type Limits,
} from '@varn/core';
import { Choice, Line, Tick } from '../ui/controls';
import { PictureButton } from './PlainFields';
import { set } from './edits';
import { checkDetail } from './settingChecks';

interface ControlFieldsProps {
  readonly block: FieldBlock | GroupBlock;
  readonly column: Column<string>;
  readonly workbookId: string;
  readonly put: (to: (held: FieldBlock | GroupBlock) => Block) => void;
}

/** Which control a field has, and what can be said of it. */
export function ControlFields({ block, column, workbookId, put }: ControlFieldsProps) {
  const fitting = controlsOf(column);
  const control = controlOf(block, column);
  const details = block.details ?? {};
  const isOneField = block.is === 'field' || block.as === 'repeated';
  const putDetail = <K extends keyof ControlDetails>(
    name: K,
    value: ControlDetails[K] | undefined | false,
  ): void =>
    put((held) => {
      const next = set(held.details ?? {}, name, value);
      return set(held, 'details', Object.keys(next).length > 0 ? next : undefined);
    });
  const takes = (name: keyof ControlDetails): boolean =>
    isOneField ? control.takes.includes(name) : name === 'inRow' && block.as === 'boxes';
  const choose = (id: string): void =>
    put((held) => {
      const { details: _details, ...rest } = held;
      return set(rest, 'control', id === fitting[0]?.id ? undefined : (id as ControlId));
    });
  const isStepped = control.id === 'steps' || control.id === 'scale';
  return (
    <Stack gap="3">
      {isOneField && fitting.length > 1 && (
        <Choice
          label="Control"
          value={control.id}
          options={fitting.map(({ id, label }) => [id, label] as const)}
          onChange={choose}
        />
      )}
      {(takes('from') || takes('step') || takes('lines') || takes('most')) && (
        <HStack gap="3" align="start">
          {takes('from') && (
            <>
              <NumberLine label="From" name="from" {...{ details, putDetail }} />
              <NumberLine label="To" name="to" {...{ details, putDetail }} />
            </>
          )}
          {takes('step') && <NumberLine label="Step" name="step" {...{ details, putDetail }} />}
          {takes('lines') && <NumberLine label="Lines" name="lines" {...{ details, putDetail }} />}
          {takes('most') && (
            <NumberLine label="At most, MB" name="most" {...{ details, putDetail }} />
          )}
        </HStack>
      )}
      {takes('figures') && (
        <Tick
          label="As figures, not marks"
          checked={details.figures ?? false}
          onChange={(checked) => putDetail('figures', checked || undefined)}
        />
      )}
      {takes('ends') && (
        <HStack gap="3">
          {([0, 1] as const).map((n) => (
            <Line
              key={n}
              label={n === 0 ? 'Low end' : 'High end'}
              value={details.ends?.[n] ?? ''}
              onPut={(text) => {
                const ends: [string, string] = [...(details.ends ?? ['', ''])];
                ends[n] = text;
                putDetail('ends', ends[0] === '' && ends[1] === '' ? undefined : ends);
              }}
            />
          ))}
        </HStack>
      )}
      {takes('inRow') && (
        <Tick
          label="In a row"
          checked={details.inRow ?? false}
          onChange={(checked) => putDetail('inRow', checked || undefined)}
        />
      )}
      {takes('suggests') && column.kind === 'text' && (
        <Tick
          label="Suggest values from the column"
          checked={details.suggests ?? false}
          onChange={(checked) => putDetail('suggests', checked || undefined)}
        />
      )}
      {takes('accepts') && (
        <Choice
          label="Takes"
          value={details.accepts ?? ''}
          options={[
            ['', 'Any file'],
            ['images', 'Pictures'],
            ['documents', 'Documents'],
          ]}
          onChange={(value) =>
            putDetail('accepts', value === 'images' || value === 'documents' ? value : undefined)
          }
        />
      )}
      {takes('pictures') && (
        <Stack gap="1">
          {(column.settings.choices ?? []).slice(0, 24).map((choice) => (
            <PictureButton
              key={choice}
              label={`${details.pictures?.[choice] === undefined ? 'Picture of' : 'Another picture of'} ${choice}`}
              workbookId={workbookId}
              onKept={({ id }) => putDetail('pictures', { ...details.pictures, [choice]: id })}
            />
          ))}
        </Stack>
      )}
      {takes('follows') && details.pictures && (
        <Tick
          label="Shows the picture of what is chosen"
          checked={details.follows ?? false}
          onChange={(checked) => putDetail('follows', checked || undefined)}
        />
      )}
      {!isStepped && hasLimits(column) && (
        <HStack gap="3" align="start">
          {(['from', 'to'] as const).map((end) => (
            <Line
              key={end}
              label={limitLabel(column, end)}
              value={writtenLimit(block.limits?.[end], column)}
              check={(text) =>
                text.trim() === '' || readLimit(text, column) !== undefined
                  ? undefined
                  : `‘${text.trim()}’ is not a ${LIMIT_WORDS[kindOf(column).iso ?? 'number']}.`
              }
              onPut={(text) =>
                put((held) => {
                  const limit = readLimit(text, column);
                  const next: Limits = set(held.limits ?? {}, end, limit);
                  return set(held, 'limits', Object.keys(next).length > 0 ? next : undefined);
                })
              }
            />
          ))}
        </HStack>
      )}
    </Stack>
  );
}

const hasLimits = (column: Column<string>): boolean =>
  ['text', 'number', 'wholeNumber', 'money', 'date', 'time', 'moment'].includes(column.kind);

const LIMIT_WORDS = {
  date: 'date like 2026-03-28',
  time: 'time like 08:00',
  moment: 'moment like 2026-03-28T08:00',
  number: 'number',
} as const;

function limitLabel(column: Column<string>, end: 'from' | 'to'): string {
  if (column.kind === 'text') return end === 'from' ? 'Characters from' : 'to';
  const iso = kindOf(column).iso;
  const like = { date: ' (2026-03-28)', time: ' (08:00)', moment: '' }[iso ?? 'moment'];
  return end === 'from' ? `At least${like}` : `At most${like}`;
}

function writtenLimit(limit: number | undefined, column: Column<string>): string {
  if (limit === undefined) return '';
  const wire = toWire(limit, column);
  return typeof wire === 'string' ? wire : String(limit);
}

function readLimit(text: string, column: Column<string>): number | undefined {
  if (text.trim() === '') return undefined;
  const value = kindOf(column).iso ? fromWire(text.trim(), column) : Number(text);
  return typeof value === 'number' && Number.isFinite(value) ? value : undefined;
}

type NumberDetail = keyof typeof DETAIL_BOUNDS;

interface NumberLineProps {
  readonly label: string;
  readonly name: NumberDetail;
  readonly details: ControlDetails;
  readonly putDetail: (name: NumberDetail, value: number | undefined) => void;
}

/** A number among a control's details. */
function NumberLine({ label, name, details, putDetail }: NumberLineProps) {
  const value = details[name];
  return (
    <Line
      label={label}
      value={value === undefined ? '' : String(value)}
      check={(text) => (text.trim() === '' ? undefined : checkDetail(name, Number(text)))}
      onPut={(text) => putDetail(name, text.trim() === '' ? undefined : Number(text))}
    />
  );
}
