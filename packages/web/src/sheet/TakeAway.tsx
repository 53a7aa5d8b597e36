import { Button, Checkbox, CloseButton, Dialog, Portal, Stack, Text } from '@chakra-ui/react';
import { paths } from '@varn/contract/paths';
import { useState } from 'react';

/** Takes a sheet away as a CSV file, guarded unless one says otherwise. */
export function TakeAway({
  sheetId,
  open,
  onClose,
}: {
  sheetId: string;
  open: boolean;
  onClose: () => void;
}) {
  const [guarded, setGuarded] = useState(true);
  return (
    <Dialog.Root open={open} onOpenChange={(details) => !details.open && onClose()}>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="leaf">
            <Dialog.Header>
              <Dialog.Title>Take the sheet away as CSV</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              <Stack gap="3">
                <Text>
                  All records in the order they stand, in UTF-8, dates as 2026-03-28, decimals with
                  a point.
                </Text>
                <Checkbox.Root
                  checked={guarded}
                  onCheckedChange={({ checked }) => setGuarded(checked === true)}
                >
                  <Checkbox.HiddenInput />
                  <Checkbox.Control borderColor="edge" />
                  <Checkbox.Label>
                    Guard texts that another program would run as a formula
                  </Checkbox.Label>
                </Checkbox.Root>
                <Text color="ink.soft">
                  A guarded text has an apostrophe before it. Varn takes it off when the file comes
                  back.
                </Text>
              </Stack>
            </Dialog.Body>
            <Dialog.Footer>
              <Button asChild onClick={onClose}>
                <a href={paths.csv(sheetId, guarded ? 'on' : 'off')} download>
                  Take away
                </a>
              </Button>
            </Dialog.Footer>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
