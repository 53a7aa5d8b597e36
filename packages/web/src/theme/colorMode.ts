import { useSyncExternalStore } from 'react';

export type ColorMode = 'light' | 'dark';

const KEY = 'varn.colorMode';
const listeners = new Set<() => void>();

function stored(): ColorMode | null {
  const mode = localStorage.getItem(KEY);
  return mode === 'light' || mode === 'dark' ? mode : null;
}

function current(): ColorMode {
  return stored() ?? (matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'light');
}

/** Puts the mode on the page, where the tokens look for it. Called before the first paint. */
export function applyColorMode(): void {
  const mode = current();
  document.documentElement.classList.toggle('dark', mode === 'dark');
  document.documentElement.style.colorScheme = mode;
}

/** Light or dark, by the system until it is chosen, and a way to switch. */
export function useColorMode(): { mode: ColorMode; switchMode: () => void } {
  const mode = useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, current);
  return {
    mode,
    switchMode: () => {
      localStorage.setItem(KEY, mode === 'dark' ? 'light' : 'dark');
      applyColorMode();
      listeners.forEach((listener) => listener());
    },
  };
}
