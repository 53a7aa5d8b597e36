import { Menu, Portal } from '@chakra-ui/react';
import type { SheetAction } from './sheetActions';
import type { SheetGrid } from './useSheetGrid';

interface SelectionMenuProps {
  readonly grid: SheetGrid;
  readonly actions: readonly SheetAction[];
}

/**
 * Whether the focus is nowhere, or in the menu that goes: that was opened by no button to give it
 * back to. What asks something meanwhile has it already, and keeps it.
 */
function isLeftOver(): boolean {
  const { activeElement, body } = document;
  return !activeElement || activeElement === body || activeElement.closest('[role=menu]') !== null;
}

/** All that can be done with what is chosen, where the pointer is or under the active cell. */
export function SelectionMenu({ grid, actions }: SelectionMenuProps) {
  const { menu, closeMenu, refocus } = grid;
  return (
    <Menu.Root
      open={menu !== null}
      onOpenChange={({ open }) => !open && closeMenu()}
      onExitComplete={() => {
        if (isLeftOver()) refocus();
      }}
      onSelect={({ value }) => actions.find(({ id }) => id === value)?.run()}
      positioning={{
        placement: 'bottom-start',
        getAnchorRect: () => ({ x: menu?.x ?? 0, y: menu?.y ?? 0, width: 1, height: 1 }),
      }}
      lazyMount
      unmountOnExit
    >
      <Portal>
        <Menu.Positioner>
          <Menu.Content bg="leaf" aria-label="With what is chosen" maxH="70vh" overflowY="auto">
            {actions.map(({ id, label, apart = false }) => (
              <Menu.Item
                key={id}
                value={id}
                borderTopWidth={apart ? '1px' : undefined}
                borderColor="rule"
              >
                {label}
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}
