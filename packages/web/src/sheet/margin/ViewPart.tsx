import { Button, HStack, Stack, Text } from '@chakra-ui/react';
import { orderWith, orderWithout, partOf } from '@varn/core';
import { Line } from '../../ui/controls';
import type { GridState } from '../useSheetGrid';
import { withFilter, type OwnView } from '../view/sheetView';
import { TickValues } from '../view/TickValues';

interface ViewPartProps {
  readonly grid: GridState;
  readonly index: number;
  readonly setView: (view: OwnView) => void;
}

/** Which records one sees by a column, and in which order: for oneself alone, nothing stored changes. */
export function ViewPart({ grid: { sheet, view }, index, setView }: ViewPartProps) {
  const column = sheet.columns[index];
  if (!column) {
    return (
      <Text color="ink.soft">Choose a cell in a column of records to filter or sort by it.</Text>
    );
  }
  const { id: columnId } = column;
  const says = view.filters.find((each) => each.columnId === columnId)?.says ?? '';
  const now = partOf(view.order, columnId);
  const isThen = orderWithout(view.order, columnId).length > 0;
  const sort = (falling: boolean, isAdded: boolean) => () => {
    const isOff = now?.falling === falling;
    const order = isOff
      ? orderWithout(view.order, columnId)
      : orderWith(view.order, { columnId, falling }, isAdded);
    setView({ ...view, order });
  };
  return (
    <Stack gap="4" data-own-view>
      <Line
        key={columnId}
        label={`Show only records where ${column.heading} is`}
        hint=">= 7, 2026-03..2026-05, ash*, blank, not blank"
        value={says}
        onPut={(text) => setView(withFilter(view, columnId, text))}
      />
      <HStack wrap="wrap">
        {[false, true].map((falling) => (
          <Button
            key={String(falling)}
            size="xs"
            variant={now?.falling === falling ? 'solid' : 'outline'}
            aria-pressed={now?.falling === falling}
            onClick={sort(falling, now !== null)}
          >
            Sort {falling ? 'descending' : 'ascending'}
          </Button>
        ))}
        {isThen &&
          !now &&
          [false, true].map((falling) => (
            <Button key={String(falling)} size="xs" variant="outline" onClick={sort(falling, true)}>
              Then {falling ? 'descending' : 'ascending'}
            </Button>
          ))}
      </HStack>
      <TickValues
        key={columnId}
        sheet={sheet}
        column={column}
        says={says}
        onSay={(text) => setView(withFilter(view, columnId, text))}
      />
    </Stack>
  );
}
