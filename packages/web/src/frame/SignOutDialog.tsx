import { Button, Dialog, HStack, Portal, Text } from '@chakra-ui/react';
import { sayCountOf } from '@varn/core';
import { Notice } from '../ui/Notice';

interface SignOutDialogProps {
  /** How much was begun and is not written. */
  readonly begun: number;
  /** Why signing out failed; empty where it did not. */
  readonly trouble: string;
  readonly onLeave: () => void;
  readonly onStay: () => void;
}

/** Asks before what was begun goes with whoever signs out. */
export default function SignOutDialog({ begun, trouble, onLeave, onStay }: SignOutDialogProps) {
  return (
    <Dialog.Root
      role="alertdialog"
      open
      onOpenChange={(details) => {
        if (!details.open) onStay();
      }}
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="leaf" maxW="420px">
            <Dialog.Header>
              <Dialog.Title>Sign out?</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              {begun > 0 && (
                <Text>
                  {sayCountOf(begun, 'record or cell', 'records or cells')} you began{' '}
                  {begun === 1 ? 'is' : 'are'} not written yet. Signing out removes{' '}
                  {begun === 1 ? 'it' : 'them'} from this browser.
                </Text>
              )}
              {trouble !== '' && <Notice tone="refuse">Not signed out. {trouble}</Notice>}
            </Dialog.Body>
            <Dialog.Footer>
              <HStack gap="2">
                <Button variant="outline" onClick={onStay}>
                  Stay
                </Button>
                <Button onClick={onLeave}>Sign out</Button>
              </HStack>
            </Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
