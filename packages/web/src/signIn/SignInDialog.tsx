import { Dialog, Portal, Stack } from '@chakra-ui/react';
import type { ComponentProps } from 'react';
import { SignInForm } from './SignInForm';

interface SignInDialogProps extends ComponentProps<typeof SignInForm> {
  readonly onClose: () => void;
}

/** Signs in over the page one is on. */
export default function SignInDialog({ onClose, ...form }: SignInDialogProps) {
  return (
    <Dialog.Root
      open
      onOpenChange={(details) => {
        if (!details.open) onClose();
      }}
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="leaf" maxW="420px">
            <Dialog.Header>
              <Dialog.Title>Sign in to go on</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body pb="6">
              <Stack gap="5">
                <SignInForm {...form} />
              </Stack>
            </Dialog.Body>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
