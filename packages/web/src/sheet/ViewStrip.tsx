import { Button, Flex, Text } from '@chakra-ui/react';
import { orderWithout, readCondition, sayCount, sayCountOf } from '@varn/core';
import { X } from 'lucide-react';
import { sayError } from '../api/client';
import { Notice } from '../ui/Notice';
import type { GridState } from './useSheetGrid';
import { PLAIN_VIEW, withFilter, type OwnView } from './view/sheetView';

/** One's own view of a sheet in words, each part of it to be dropped with a click. */
export function ViewStrip({
  grid,
  setView,
}: {
  grid: GridState;
  setView: (view: OwnView) => void;
}) {
  const { sheet, lines, view, viewParameter, viewError } = grid;
  if (viewParameter === '') return null;
  const headingOf = (id: string): string =>
    sheet.columns.find((column) => column.id === id)?.heading ?? '';
  const drop = (label: string, next: OwnView) => (
    <Button
      key={label}
      size="xs"
      variant="outline"
      aria-label={`Drop: ${label}`}
      onClick={() => setView(next)}
    >
      {label} <X size={12} aria-hidden />
    </Button>
  );
  return (
    <Flex
      px="5"
      py="2"
      gap="2"
      align="center"
      wrap="wrap"
      bg="brass.wash"
      borderBottomWidth="1px"
      role="region"
      aria-label="Your view"
    >
      {viewError ? (
        <Notice tone="refuse">{sayError(viewError)}</Notice>
      ) : (
        <Text role="status">
          {sayCount(lines.records)} of {sayCountOf(sheet.count, 'record')}, for you alone
        </Text>
      )}
      {view.filters.map(({ columnId, says }) =>
        drop(sayFilter(grid, columnId, says), withFilter(view, columnId, '')),
      )}
      {view.order.map(({ columnId, falling }, at) =>
        drop(
          `${at === 0 ? 'by' : 'then by'} ${headingOf(columnId)}, ${falling ? 'descending' : 'ascending'}`,
          { ...view, order: orderWithout(view.order, columnId) },
        ),
      )}
      <Button size="xs" variant="ghost" onClick={() => setView(PLAIN_VIEW)}>
        Show all, in sheet order
      </Button>
    </Flex>
  );
}

/** A condition in words, as long as it can be read; else as it is written. */
function sayFilter({ sheet, locale, faces }: GridState, columnId: string, says: string): string {
  const column = sheet.columns.find(({ id }) => id === columnId);
  if (!column) return says;
  const reading = readCondition(says, column, { locale, now: faces.now });
  return `${column.heading} ${reading.ok ? reading.says : says}`;
}
