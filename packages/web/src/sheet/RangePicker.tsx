import { Box, Button, Dialog, HStack, Portal, Text } from '@chakra-ui/react';
import type { SheetView, WorkbookView } from '@varn/contract';
import { useState } from 'react';
import { useSheet, useWorkbook } from '../api/resources';
import { referenceFor } from './formula/ranges';
import { Grid } from './grid/Grid';
import { boxOf } from './selection';
import { useAtHand } from './useAtHand';
import { useSelecting } from './useSelecting';
import { PLAIN_VIEW } from './view/sheetView';
import { Choice } from '../ui/controls';
import { Waiting } from '../ui/Waiting';

interface RangePickerProps {
  readonly title: string;
  readonly workbookId: string;
  readonly sheetId: string;
  readonly anySheet: boolean;
  /** @param range as a formula writes it, or `null` where none was picked */
  readonly onPicked: (range: string | null) => void;
}

/** Asks for a range in a grid of its own: whatever one was doing stays as it is. */
export function RangePicker({ title, workbookId, sheetId, anySheet, onPicked }: RangePickerProps) {
  const [shown, setShown] = useState(sheetId);
  const { data: workbook } = useWorkbook(workbookId);
  const { data: sheet } = useSheet(shown);
  return (
    <Dialog.Root open size="xl" onOpenChange={({ open }) => !open && onPicked(null)}>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="leaf" p="4">
            <HStack mb="3" align="end" justify="space-between">
              <Dialog.Title>{title}</Dialog.Title>
              {anySheet && workbook && (
                <Choice
                  label="Sheet"
                  value={shown}
                  options={workbook.sheets.map(({ id, name }) => [id, name])}
                  onChange={setShown}
                />
              )}
            </HStack>
            {sheet && workbook ? (
              <Picking key={sheet.id} {...{ sheet, workbook, anySheet, onPicked }} />
            ) : (
              <Waiting />
            )}
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}

interface PickingProps extends Pick<RangePickerProps, 'anySheet' | 'onPicked'> {
  readonly sheet: SheetView;
  readonly workbook: WorkbookView;
}

function Picking({ sheet, workbook, anySheet, onPicked }: PickingProps) {
  // Whoever picks changes nothing here.
  const atHand = useAtHand({ ...workbook, role: 'reader' }, sheet, PLAIN_VIEW);
  const selecting = useSelecting(atHand.lines, atHand.columns);
  const range = referenceFor(boxOf(selecting.selection.last), sheet, atHand.lines, {
    ownSheet: !anySheet,
    inRecord: false,
  });
  return (
    <>
      <Box h="50vh" borderWidth="1px">
        <Grid grid={{ ...atHand, ...selecting }} writing={null} />
      </Box>
      <HStack mt="3" justify="space-between">
        <Text fontFamily="mono" role="status">
          {range}
        </Text>
        <HStack>
          <Button size="sm" variant="outline" onClick={() => onPicked(null)}>
            Cancel
          </Button>
          <Button size="sm" onClick={() => onPicked(range)}>
            Use it
          </Button>
        </HStack>
      </HStack>
    </>
  );
}
