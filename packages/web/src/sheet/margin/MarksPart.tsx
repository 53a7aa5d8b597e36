import { Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { CellMark, ColumnView } from '@varn/contract';
import { MOST_MARKS } from '@varn/contract/limits';
import { paths } from '@varn/contract/paths';
import { readCondition, sayProblem, type CellBack } from '@varn/core';
import { request } from '../../api/client';
import { Choice, Line } from '../../ui/controls';
import type { GridState } from '../useSheetGrid';

/** Each mark by its sign and its colour. */
const SIGNS: Readonly<Record<CellBack, string>> = {
  madder: '◆ Red',
  amber: '▲ Orange',
  brass: '★ Gold',
  pine: '● Green',
  slate: '■ Blue',
};

/** What makes cells of a column stand out for everyone: where a condition holds, or a rule is broken. */
export function MarksPart({ grid, column }: { grid: GridState; column: ColumnView }) {
  const { sheet, locale, faces, cells } = grid;
  const marks = sheet.look.marks?.[column.id] ?? [];
  const put = (next: readonly CellMark[]): void => {
    const { [column.id]: _, ...others } = sheet.look.marks ?? {};
    const all = next.length === 0 ? others : { ...others, [column.id]: next };
    void cells.send(({ id, revision, look }) =>
      request('PATCH', paths.sheet(id), { revision, look: { ...look, marks: all } }),
    );
  };
  const change = (at: number, mark: CellMark): void => put(marks.with(at, mark));
  const hasRules = (column.settings.rules ?? []).length > 0;
  const marksRules = marks.some(({ says }) => says === undefined);
  const unread = (says: string): string | undefined => {
    if (says.trim() === '') return 'Write a condition, or remove the mark.';
    const reading = readCondition(says, column, { locale, now: faces.now });
    return reading.ok ? undefined : sayProblem(reading.problem);
  };
  return (
    <Stack gap="2" role="group" aria-label="Marks">
      <Text fontWeight="600">Marks</Text>
      {marks.map(({ back, says }, at) => (
        <Stack key={at} gap="1" borderStartWidth="3px" borderStartColor={back} ps="2">
          {says === undefined ? (
            <Text>Where a rule is broken</Text>
          ) : (
            <Line
              label={`Mark where ${column.heading} is`}
              value={says}
              problem={says === '' ? undefined : unread(says)}
              check={unread}
              onPut={(text) => change(at, { back, says: text.trim() })}
            />
          )}
          <HStack align="end">
            <Choice
              label="With"
              value={back}
              options={Object.entries(SIGNS)}
              onChange={(next) => change(at, { ...marks[at], back: next as CellBack })}
            />
            <Button
              size="xs"
              variant="outline"
              mb="1"
              aria-label={`Remove mark ${at + 1}`}
              onClick={() => put(marks.toSpliced(at, 1))}
            >
              Remove
            </Button>
          </HStack>
        </Stack>
      ))}
      {marks.length < MOST_MARKS && (
        <HStack wrap="wrap">
          <Button
            size="xs"
            variant="outline"
            onClick={() => put([...marks, { back: 'amber', says: '' }])}
          >
            Mark by a condition
          </Button>
          {hasRules && !marksRules && (
            <Button size="xs" variant="outline" onClick={() => put([...marks, { back: 'madder' }])}>
              Mark where a rule is broken
            </Button>
          )}
        </HStack>
      )}
    </Stack>
  );
}
