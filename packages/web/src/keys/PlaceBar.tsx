import { Box, Button, Flex, HStack, Kbd } from '@chakra-ui/react';
import { Compass, Keyboard } from 'lucide-react';
import { useEffect, useRef, useState, type KeyboardEvent, type ReactNode } from 'react';
import { later } from '../ui/later';
import './bar.css';
import { BAR } from './focusBar';
import { keyOf, showKey, useChangedKeys, type KeyAction } from './keymap';

/** How long after the page the finder is loaded. */
const AHEAD_MS = 300;
const finder = later(async () => (await import('../ui/Finder')).Finder);
const keys = later(async () => (await import('./KeysDialog')).KeysDialog);

export interface BarAction extends KeyAction {
  readonly run: () => void;
  readonly disabled?: boolean;
  /** The one that matters most here. */
  readonly main?: boolean;
  readonly icon?: ReactNode;
  /** Whether its icon is enough where the window is under 1280 px wide; its label is read out. */
  readonly brief?: boolean;
  /** Whether only its key is there: the menu of the place has it as well. */
  readonly isKeyOnly?: boolean;
}

interface PlaceBarProps {
  /** The place, as people name it: "Desk". */
  readonly place: string;
  readonly actions: readonly BarAction[];
  /** Keys of the place that act elsewhere than on the bar: shown, not changed here. */
  readonly fixedKeys?: readonly { keys: string; does: string }[];
  readonly children?: ReactNode;
  /** Hides words and shows icons where room is short. */
  readonly compact?: boolean;
}

const buttonOf = ({ id }: BarAction): string => `[data-action="${id}"]`;

/**
 * The bar of a place: its buttons, each with its key. Single keys act only while the bar has the
 * focus, so that they never get in the way of typing or of a screen reader.
 */
export function PlaceBar({
  place,
  actions,
  fixedKeys = [],
  children,
  compact = false,
}: PlaceBarProps) {
  const changedKeys = useChangedKeys();
  const [open, setOpen] = useState<'finder' | 'keys' | null>(null);
  // Of the finder, also while it is still being loaded.
  const [typed, setTyped] = useState('');
  const [isEntered, setEntered] = useState(false);
  const bar = useRef<HTMLDivElement>(null);
  // Once the page stands, so that what is typed for the finder finds it there.
  useEffect(() => {
    const later = setTimeout(finder.load, AHEAD_MS);
    return () => clearTimeout(later);
  }, []);
  const all: readonly BarAction[] = [
    ...actions,
    {
      id: 'finder',
      label: 'Go to',
      key: '/',
      run: () => {
        setTyped('');
        setEntered(false);
        setOpen('finder');
      },
      icon: <Compass size={15} aria-hidden />,
      brief: compact,
    },
    {
      id: 'keys',
      label: 'Keys',
      key: '?',
      run: () => setOpen('keys'),
      icon: <Keyboard size={15} aria-hidden />,
      brief: compact,
    },
  ];

  const shown = all.filter(({ isKeyOnly = false }) => !isKeyOnly);

  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.altKey || event.defaultPrevented) return;
    if (open !== null) {
      // What opens is still on its way: what is typed for it is no key of the bar.
      if (event.key.length === 1) setTyped((text) => text + event.key);
      else if (event.key === 'Enter') setEntered(true);
      event.preventDefault();
      return;
    }
    if (event.ctrlKey || event.metaKey) {
      // Ctrl+Enter does what matters most here, also where that button has the focus.
      const main = all.find((each) => each.main);
      if (event.key !== 'Enter' || event.repeat || !main || main.disabled) return;
      event.preventDefault();
      main.run();
      return;
    }
    const buttons = [...(bar.current?.querySelectorAll<HTMLElement>('button') ?? [])];
    const at = buttons.indexOf(document.activeElement as HTMLElement);
    if (at < 0) return;
    if (event.key === 'ArrowRight' || event.key === 'ArrowLeft') {
      const step = event.key === 'ArrowRight' ? 1 : buttons.length - 1;
      buttons[(at + step) % buttons.length]?.focus();
    } else {
      const action = all.find((each) => keyOf(each, changedKeys) === event.key.toLowerCase());
      if (!action || action.disabled) return;
      // Whoever takes the bar for a field and types on must not have sent or cleared anything.
      if (action.isWrite) bar.current?.querySelector<HTMLElement>(buttonOf(action))?.focus();
      else action.run();
    }
    event.preventDefault();
  };

  return (
    <>
      <Flex
        ref={bar}
        className={BAR}
        role="toolbar"
        aria-label={`${place} bar`}
        onKeyDown={onKeyDown}
        align="center"
        gap="2"
        wrap="wrap"
      >
        {shown.map((action) => (
          <BarButton
            key={action.id}
            action={action}
            shortcut={showKey(keyOf(action, changedKeys))}
            compact={compact}
          />
        ))}
        {children}
      </Flex>
      {open === 'finder' && (
        <finder.Part
          typed={typed}
          onType={setTyped}
          isEntered={isEntered}
          actions={actions}
          onClose={() => setOpen(null)}
        />
      )}
      {open === 'keys' && (
        <keys.Part
          onClose={() => setOpen(null)}
          place={place}
          actions={all}
          fixedKeys={fixedKeys}
        />
      )}
    </>
  );
}

function BarButton({
  action,
  shortcut,
  compact,
}: {
  action: BarAction;
  shortcut: string;
  compact: boolean;
}) {
  const { label, run, disabled = false, main = false, icon, brief = false } = action;
  const secondary = action.id === 'finder' || action.id === 'keys';
  return (
    <Button
      size="sm"
      variant={main ? 'solid' : secondary ? 'ghost' : 'outline'}
      onClick={disabled ? undefined : run}
      // Not `disabled`: a button that has the focus must not lose it, or the bar's keys would stop.
      aria-disabled={disabled || undefined}
      opacity={disabled ? 0.45 : undefined}
      data-action={action.id}
      aria-keyshortcuts={shortcut}
      px={brief ? '2' : { base: '3', xl: '2.5' }}
      position="relative"
      aria-label={brief ? label : undefined}
      title={brief ? label : undefined}
      hideBelow={compact && secondary ? 'lg' : undefined}
    >
      <HStack gap="2">
        {icon}
        <Box as="span" className="bar-word" hideBelow={brief ? 'xl' : undefined}>
          {label}
        </Box>
      </HStack>
      <Kbd className="bar-key" size="sm" aria-hidden hideBelow="md">
        {shortcut}
      </Kbd>
    </Button>
  );
}
