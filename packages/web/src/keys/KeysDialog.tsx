import { Button, CloseButton, Dialog, Kbd, Portal, Stack, Table, Text } from '@chakra-ui/react';
import { useState, type KeyboardEvent } from 'react';
import { Notice } from '../ui/Notice';
import { changeKey, keyOf, showKey, useChangedKeys, type KeyAction } from './keymap';

interface KeysDialogProps {
  readonly onClose: () => void;
  readonly place: string;
  readonly actions: readonly KeyAction[];
  readonly fixedKeys: readonly { keys: string; does: string }[];
}

/** Every key of a place. Those of its bar can be changed: choose one, press another. */
export function KeysDialog({ onClose, place, actions, fixedKeys }: KeysDialogProps) {
  const changedKeys = useChangedKeys();
  const [asking, setAsking] = useState<KeyAction | null>(null);
  const [refusal, setRefusal] = useState('');

  const onKey = (event: KeyboardEvent): void => {
    if (!asking || ['Tab', 'Shift', 'Control', 'Alt', 'Meta'].includes(event.key)) return;
    event.preventDefault();
    event.stopPropagation();
    if (event.key === 'Escape') {
      setAsking(null);
    } else if (event.key.length !== 1 || event.key === ' ') {
      setRefusal('Choose a letter, a figure or a sign.');
    } else {
      const taken = changeKey(asking, event.key.toLowerCase(), actions);
      setRefusal(
        taken ? `${showKey(event.key)} is the key of ${taken.label}. Choose another.` : '',
      );
      if (!taken) setAsking(null);
    }
  };

  return (
    <Dialog.Root
      open
      onOpenChange={(details) => !details.open && onClose()}
      closeOnEscape={!asking}
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="leaf" onKeyDownCapture={onKey}>
            <Dialog.Header>
              <Dialog.Title>Keys in {place}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              <Stack gap="4">
                <Text color="ink.soft">
                  Escape takes you to the bar, where these keys work. Press one here to change it.
                </Text>
                <Table.Root size="sm">
                  <Table.Body>
                    {actions.map((action) => (
                      <Table.Row key={action.id} bg="leaf">
                        <Table.Cell>
                          {action.label}
                          {action.isWrite && (
                            <Text as="span" color="ink.soft">
                              , then Enter
                            </Text>
                          )}
                        </Table.Cell>
                        <Table.Cell textAlign="end">
                          <Button
                            size="xs"
                            variant="outline"
                            onClick={() => setAsking(action)}
                            aria-label={`Change the key of ${action.label}, now ${keyOf(action, changedKeys)}`}
                          >
                            {asking?.id === action.id
                              ? 'Press a key…'
                              : showKey(keyOf(action, changedKeys))}
                          </Button>
                        </Table.Cell>
                      </Table.Row>
                    ))}
                    {fixedKeys.map(({ keys, does }) => (
                      <Table.Row key={keys} bg="leaf">
                        <Table.Cell>{does}</Table.Cell>
                        <Table.Cell textAlign="end">
                          <Kbd>{keys}</Kbd>
                        </Table.Cell>
                      </Table.Row>
                    ))}
                  </Table.Body>
                </Table.Root>
                {refusal && <Notice tone="ask">{refusal}</Notice>}
              </Stack>
            </Dialog.Body>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
