import { Menu, Portal } from '@chakra-ui/react';
import { useRef } from 'react';
import type { SheetAction } from './sheetActions';
import type { GridState } from './useSheetGrid';

interface SelectionMenuProps {
  readonly grid: GridState;
  readonly actions: readonly SheetAction[];
}

/** All that can be done with what is chosen, where the pointer is or under the active cell. */
export function SelectionMenu({ grid, actions }: SelectionMenuProps) {
  const { menu, closeMenu, refocus } = grid;
  const chosen = useRef<SheetAction>(undefined);
  return (
    <Menu.Root
      open={menu !== null}
      onOpenChange={({ open }) => !open && closeMenu()}
      // Once the menu is gone and the focus is back, so that what asks something first keeps it.
      onExitComplete={() => {
        refocus();
        chosen.current?.run();
        chosen.current = undefined;
      }}
      onSelect={({ value }) => {
        chosen.current = actions.find(({ id }) => id === value);
      }}
      positioning={{
        placement: 'bottom-start',
        getAnchorRect: () => ({ x: menu?.x ?? 0, y: menu?.y ?? 0, width: 1, height: 1 }),
      }}
      lazyMount
      unmountOnExit
    >
      <Portal>
        <Menu.Positioner>
          <section aria-label="With what is chosen">
            <Menu.Content
              bg="leaf"
              aria-label="With what is chosen"
              // Whole in the window, above or below.
              maxH="min(70vh, var(--available-height, 70vh))"
              overflowY="auto"
              _closed={{ animation: 'none' }}
            >
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
          </section>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}
