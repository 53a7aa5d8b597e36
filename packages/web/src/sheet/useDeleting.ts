import type { UsesView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useState } from 'react';
import { get } from '../api/client';
import { useSteady } from '../form/useSteady';

/** What is asked before something that others use is deleted. */
export interface AskedDeletion extends UsesView {
  readonly what: string;
  readonly run: () => void;
}

export interface Deleting {
  readonly asked: AskedDeletion | null;
  /** Deletes at once what nothing uses; else shows what does. @param of absent for the sheet itself */
  readonly ask: (what: string, of: { columnId?: string; nameId?: string }, run: () => void) => void;
  readonly carryOut: () => void;
  readonly leave: () => void;
}

/** Asks what uses a column, a name or the sheet before it is deleted. */
export function useDeleting(sheetId: string, onFailure: (error: unknown) => void): Deleting {
  const [asked, setAsked] = useState<AskedDeletion | null>(null);
  const ask = useSteady(
    (what: string, of: { columnId?: string; nameId?: string }, run: () => void): void => {
      void get<UsesView>(paths.uses(sheetId, of)).then((found) => {
        if (found.uses.length === 0) run();
        else setAsked({ ...found, what, run });
      }, onFailure);
    },
  );
  return {
    asked,
    ask,
    carryOut: () => {
      asked?.run();
      setAsked(null);
    },
    leave: () => setAsked(null),
  };
}
