import type { CellRefusal, SheetView, Written } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useEffect, useRef, useState } from 'react';
import { useSWRConfig } from 'swr';
import { ApiRefusal, request, sayError } from '../api/client';
import { apply } from '../api/events';
import { useWrites } from '../api/useWrites';

/** A record begun in the grid: it stays here, as typed, until it is written. */
export interface Draft {
  readonly answers: Readonly<Record<string, string>>;
  /** What stands in the way of a cell, by column id. */
  readonly verdicts: Readonly<Record<string, CellRefusal>>;
  readonly sending: boolean;
  readonly failure: string;
}

const NONE: Draft = { answers: {}, verdicts: {}, sending: false, failure: '' };

export interface DraftRow {
  readonly draft: Draft;
  readonly begun: boolean;
  /** @param meant whether it is typed once more although it was asked about */
  readonly type: (columnId: string, text: string) => void;
  /** Writes the record, on leaving its row. Gives whether nothing is left to write. */
  readonly leave: () => Promise<boolean>;
  readonly forget: () => void;
}

const keyOf = (sheetId: string): string => `varn.draft.${sheetId}`;

function kept(sheetId: string): Draft {
  try {
    const answers = JSON.parse(sessionStorage.getItem(keyOf(sheetId)) ?? '{}') as Draft['answers'];
    return { ...NONE, answers };
  } catch {
    return NONE;
  }
}

/** The line on which a record is begun. */
export function useDraft(sheet: SheetView): DraftRow {
  const { mutate } = useSWRConfig();
  const { inTurn } = useWrites();
  const [draft, setDraft] = useState<Draft>(() => kept(sheet.id));
  const meant = useRef(new Set<string>());
  const begun = Object.values(draft.answers).some((text) => text.trim() !== '');

  useEffect(() => {
    if (begun) sessionStorage.setItem(keyOf(sheet.id), JSON.stringify(draft.answers));
    else sessionStorage.removeItem(keyOf(sheet.id));
  }, [begun, draft.answers, sheet.id]);

  const forget = (): void => {
    meant.current.clear();
    setDraft(NONE);
  };

  return {
    draft,
    begun,
    forget,
    type: (columnId, text) => {
      const { verdicts, answers } = draft;
      if (verdicts[columnId]?.ask && answers[columnId] === text) meant.current.add(columnId);
      else meant.current.delete(columnId);
      const { [columnId]: _, ...others } = verdicts;
      setDraft({ ...draft, answers: { ...answers, [columnId]: text }, verdicts: others });
    },
    leave: async () => {
      if (!begun) return true;
      if (draft.sending) return false;
      setDraft({ ...draft, sending: true, failure: '' });
      const answers = Object.fromEntries(
        Object.entries(draft.answers).filter(([, text]) => text.trim() !== ''),
      );
      const body = {
        writeId: crypto.randomUUID(),
        revision: sheet.revision,
        added: [{ answers, meant: [...meant.current] }],
      };
      try {
        const written = await inTurn(() => request<Written>('POST', paths.cells(sheet.id), body));
        forget();
        for (const landed of written.records) {
          const { seq, kind, sheetId } = landed;
          const event = { seq, kind, sheetId, writeId: written.writeId, by: '', landed };
          apply(mutate, sheet.workbookId, event);
        }
        return true;
      } catch (error) {
        const cells = error instanceof ApiRefusal ? (error.refusal.cells ?? []) : [];
        const verdicts = Object.fromEntries(cells.map((each) => [each.column, each]));
        const failure = cells.length > 0 ? '' : sayError(error);
        setDraft((held) => ({ ...held, sending: false, verdicts, failure }));
        return false;
      }
    },
  };
}
