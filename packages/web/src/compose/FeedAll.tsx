import { Box, Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { FreeRowsView, SheetView, WorkbookView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import {
  isEntry,
  isErrorValue,
  kindOf,
  labelOfBlock,
  pairsOf,
  printReference,
  referencesIn,
  sayCountOf,
  type Column,
} from '@varn/core';
import { lazy, Suspense, useState } from 'react';
import { get, sayError } from '../api/client';
import { useWorkbook } from '../api/resources';
import { fedSettings, sourceOf } from '../sheet/lists/sources';
import { Choice } from '../ui/controls';
import { Notice } from '../ui/Notice';
import { changeColumn, type Layout } from './edits';
import type { Composing } from './useCompose';

const RangePicker = lazy(async () => ({
  default: (await import('../sheet/RangePicker')).RangePicker,
}));

/** A field, with the columns it writes: several where statements share their choices. */
interface Target {
  readonly label: string;
  readonly columnIds: readonly string[];
  /** Whether a list can feed it: choices, and texts that become one. */
  readonly mayBeFed: boolean;
}

/** A heading in the picked block, what stands under it, and the field it is to feed. */
interface Proposed {
  readonly heading: string;
  readonly source: string;
  /** The place of the field among the targets; `null` for none. */
  readonly target: number | null;
}

function targetsOf({ layout, columns }: Composing): Target[] {
  const byId = new Map(columns.map((column) => [column.id, column]));
  return layout.definition.blocks.flatMap((block): Target[] => {
    if (!isEntry(block) || (block.is === 'group' && block.as === 'boxes')) return [];
    const ids =
      block.is === 'field' ? [block.columnId] : block.members.map((each) => each.columnId);
    const [column] = ids.flatMap((id) => byId.get(id) ?? []);
    if (!column) return [];
    const mayBeFed = kindOf(column).typing === 'choice' || column.kind === 'text';
    return [{ label: labelOfBlock(block, byId), columnIds: ids, mayBeFed }];
  });
}

/** A sheet whose headings are questions and whose columns are choices feeds a form in one go. */
export function FeedAll({ composing, sheet }: { composing: Composing; sheet: SheetView }) {
  const { data: workbook } = useWorkbook(sheet.workbookId);
  const [picking, setPicking] = useState(false);
  const [proposed, setProposed] = useState<readonly Proposed[] | null>(null);
  const [said, setSaid] = useState('');
  const [failure, setFailure] = useState('');
  const all = targetsOf(composing);
  const targets = all.filter(({ mayBeFed }) => mayBeFed);
  if (!workbook || targets.length === 0) return null;

  const propose = async (range: string): Promise<void> => {
    try {
      const found = await headingsIn(range, workbook);
      const pairs = pairsOf(
        found.map(({ heading }) => heading),
        targets.map(({ label }) => label),
      );
      setProposed(
        found.map((each, at) => {
          const pair = pairs.find(({ heading }) => heading === at);
          return { ...each, target: pair?.label ?? null };
        }),
      );
      setFailure(found.length === 0 ? 'The first row of what you picked holds no headings.' : '');
      setSaid('');
    } catch (error) {
      setFailure(sayError(error));
    }
  };
  const fed = proposed?.filter(({ target }) => target !== null) ?? [];
  const feed = (): void => {
    composing.edit((layout) => fedLayout(layout, composing.columns, targets, fed));
    setSaid(`${sayCountOf(fed.length, 'field')} fed.${sayLeftOut(all, targets, fed)}`);
    setProposed(null);
  };
  return (
    <Box role="group" aria-label="Feed choices from a sheet">
      <Text fontWeight="600" fontSize="13px">
        Feed choices from a sheet
      </Text>
      <Text fontSize="12.5px" color="ink.soft">
        Pick a block whose headings are the questions and whose columns hold their choices.
      </Text>
      <Button size="xs" variant="outline" mt="1" onClick={() => setPicking(true)}>
        Pick the block
      </Button>
      {picking && (
        <Suspense>
          <RangePicker
            title="Pick headings and choices"
            workbookId={workbook.id}
            sheetId={workbook.sheets.find(({ hasRecords }) => !hasRecords)?.id ?? sheet.id}
            anySheet
            onPicked={(range) => {
              setPicking(false);
              if (range !== null) void propose(range);
            }}
          />
        </Suspense>
      )}
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
      {proposed && proposed.length > 0 && (
        <Stack gap="1" mt="2">
          {proposed.map((each, at) => (
            <HStack key={each.source} align="end" justify="space-between">
              <Choice
                label={each.heading}
                value={each.target === null ? '' : String(each.target)}
                options={[
                  ['', 'Feeds nothing'],
                  ...targets.map(({ label }, n) => [String(n), label] as const),
                ]}
                onChange={(value) =>
                  setProposed(
                    proposed.with(at, { ...each, target: value === '' ? null : Number(value) }),
                  )
                }
              />
              <Text fontFamily="mono" fontSize="12px" color="ink.soft" pb="2">
                {each.source}
              </Text>
            </HStack>
          ))}
          <HStack>
            <Button size="sm" disabled={fed.length === 0} onClick={feed}>
              Feed {sayCountOf(fed.length, 'field')}
            </Button>
            <Button size="sm" variant="outline" onClick={() => setProposed(null)}>
              Cancel
            </Button>
          </HStack>
        </Stack>
      )}
      <Text role="status" fontSize="12.5px" _empty={{ display: 'none' }}>
        {said}
      </Text>
    </Box>
  );
}

/** Which fields were not fed, and why. */
function sayLeftOut(
  all: readonly Target[],
  targets: readonly Target[],
  fed: readonly Proposed[],
): string {
  const isFed = (each: Target): boolean => fed.some(({ target }) => targets[target ?? -1] === each);
  const left = all.filter((each) => !isFed(each));
  const said = left.map(({ label, mayBeFed }) =>
    mayBeFed ? `${label} (no heading was given to it)` : `${label} (neither text nor a choice)`,
  );
  return left.length === 0 ? '' : ` Left out: ${said.join(', ')}.`;
}

/** A layout whose fields are fed as it was proposed. */
function fedLayout(
  layout: Layout,
  columns: readonly Column<string>[],
  targets: readonly Target[],
  fed: readonly Proposed[],
): Layout {
  return fed.reduce((all, { source, target }) => {
    const ids = targets[target ?? -1]?.columnIds ?? [];
    return ids.reduce((held, id) => {
      const column =
        held.columns.find((each) => each.id === id) ?? columns.find((each) => each.id === id);
      if (!column) return held;
      const settings = fedSettings(column.settings, { ...column.settings.list, source });
      // A text that is chosen from now on.
      const kind = column.kind === 'text' ? 'oneChoice' : column.kind;
      return changeColumn(held, { ...column, kind, settings });
    }, all);
  }, layout);
}

/** The headings in the first row of a range, each with the range under it. */
async function headingsIn(
  range: string,
  workbook: WorkbookView,
): Promise<Omit<Proposed, 'target'>[]> {
  const [span] = referencesIn(range, { decimal: '.' });
  const reference = span?.reference;
  if (!reference || reference.kind === 'name' || reference.sheet === null) return [];
  const entry = workbook.sheets.find(({ name }) => name === reference.sheet);
  if (!entry) return [];
  const sheet = await get<SheetView>(paths.sheet(entry.id));
  if (reference.kind === 'heading') {
    return [{ heading: reference.heading, source: sourceOf(sheet.name, reference.heading) }];
  }
  const [from, to] =
    reference.kind === 'cell' ? [reference.cell, reference.cell] : [reference.from, reference.to];
  const row = from.row ?? 1;
  const isOfRecords = sheet.hasRecords && row >= sheet.headingRow;
  const { rows } = isOfRecords
    ? { rows: [] }
    : await get<FreeRowsView>(paths.freeRows(sheet.id, row - 1, 1));
  const found: Omit<Proposed, 'target'>[] = [];
  for (let at = from.column; at <= to.column; at += 1) {
    if (isOfRecords) {
      const heading = sheet.columns[at]?.heading ?? '';
      if (heading !== '') found.push({ heading, source: sourceOf(sheet.name, heading) });
      continue;
    }
    const value = rows[0]?.cells[at]?.value ?? null;
    if (value === null || isErrorValue(value)) continue;
    const corner = { column: at, fixedColumn: false, fixedRow: false };
    const source = printReference({
      kind: 'range',
      sheet: sheet.name,
      from: { ...corner, row: row + 1 },
      to: { ...corner, row: null },
    });
    found.push({ heading: String(value), source });
  }
  return found;
}
