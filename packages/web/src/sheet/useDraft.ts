import type { CellRefusal, SheetView, Written } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useEffect, useRef, useState } from 'react';
import { useSWRConfig } from 'swr';
import { newId } from '../api/newId';
import { ApiRefusal, request, sayError } from '../api/client';
import { apply } from '../api/events';
import type { Cells } from './useCells';

/** A record begun in the grid: it stays, as typed, until it is written. */
export interface Draft {
  readonly answers: Readonly<Record<string, string>>;
  /** What stands in the way of a cell, by column id. */
  readonly verdicts: Readonly<Record<string, CellRefusal>>;
  /** Columns whose answers are meant, although they were asked about. */
  readonly meant: readonly string[];
  /** Why it was not written, where that is no cell's fault. */
  readonly failure: string;
  /** The record it is put above; at the end without one. */
  readonly above?: { readonly id: string; readonly gridRow: number };
}

const NONE: Draft = { answers: {}, verdicts: {}, meant: [], failure: '' };

export interface DraftRow {
  readonly draft: Draft;
  readonly begun: boolean;
  /** Records that were left and refused while another was begun: they come back one by one. */
  readonly refused: number;
  readonly type: (columnId: string, text: string) => void;
  /** Sends the record, on leaving its row; the next one can be begun at once. */
  readonly leave: () => void;
  readonly forget: () => void;
  /** Says above which record it is to be put. */
  readonly putAbove: (above: NonNullable<Draft['above']>) => void;
}

const isBegun = ({ answers }: Draft): boolean =>
  Object.values(answers).some((text) => text.trim() !== '');

const keyOf = (sheetId: string): string => `varn.drafts.${sheetId}`;

/** The drafts of a sheet that were not written when its page was last left. */
function kept(sheetId: string): Draft[] {
  try {
    const answers = JSON.parse(
      sessionStorage.getItem(keyOf(sheetId)) ?? '[]',
    ) as Draft['answers'][];
    return answers.map((each) => ({ ...NONE, answers: each }));
  } catch {
    return [];
  }
}

/** The line on which a record is begun. */
export function useDraft(sheet: SheetView, inTurn: Cells['inTurn']): DraftRow {
  const { mutate } = useSWRConfig();
  // The first is the one typed into; those behind it were refused and wait to be looked at.
  const [drafts, setDrafts] = useState<readonly Draft[]>(() => kept(sheet.id));
  const [sent, setSent] = useState<readonly Draft[]>([]);
  // What was typed a moment ago counts, although it is not on the screen yet.
  const latest = useRef(drafts);
  const put = (next: readonly Draft[]): void => {
    latest.current = next;
    setDrafts(next);
  };
  const [draft = NONE] = drafts;

  useEffect(() => {
    const open = [...drafts, ...sent].filter(isBegun).map(({ answers }) => answers);
    if (open.length > 0) sessionStorage.setItem(keyOf(sheet.id), JSON.stringify(open));
    else sessionStorage.removeItem(keyOf(sheet.id));
  }, [drafts, sent, sheet.id]);

  const comesBack = (refused: Draft): void => {
    const [first = NONE, ...others] = latest.current;
    put(isBegun(first) ? [first, ...others, refused] : [refused, ...others]);
  };

  const send = async (leaving: Draft): Promise<void> => {
    const answers = Object.fromEntries(
      Object.entries(leaving.answers).filter(([, text]) => text.trim() !== ''),
    );
    const { meant, above } = leaving;
    const body = {
      writeId: newId(),
      revision: sheet.revision,
      added: [{ answers, ...(meant.length > 0 && { meant }), ...(above && { above: above.id }) }],
    };
    setSent((held) => [...held, leaving]);
    try {
      const written = await inTurn(() => request<Written>('POST', paths.cells(sheet.id), body));
      for (const landed of written.records) {
        const { seq, kind, sheetId } = landed;
        const event = { seq, kind, sheetId, writeId: written.writeId, by: '', landed };
        apply(mutate, sheet.workbookId, event);
      }
    } catch (error) {
      const cells = error instanceof ApiRefusal ? (error.refusal.cells ?? []) : [];
      const verdicts = Object.fromEntries(cells.map((each) => [each.column, each]));
      comesBack({ ...leaving, verdicts, failure: cells.length > 0 ? '' : sayError(error) });
    }
    setSent((held) => held.filter((each) => each !== leaving));
  };

  return {
    draft,
    begun: isBegun(draft),
    refused: drafts.length > 1 ? drafts.length - 1 : 0,
    forget: () => put(latest.current.slice(1)),
    putAbove: (above) => {
      const [first = NONE, ...others] = latest.current;
      put([{ ...first, above }, ...others]);
    },
    type: (columnId, text) => {
      const [first = NONE, ...others] = latest.current;
      const { [columnId]: verdict, ...verdicts } = first.verdicts;
      const isMeant = verdict?.ask === true && first.answers[columnId] === text;
      const meant = first.meant.filter((id) => id !== columnId);
      const answers = { ...first.answers, [columnId]: text };
      const next: Draft = {
        ...first,
        answers,
        verdicts,
        meant: isMeant ? [...meant, columnId] : meant,
        failure: '',
      };
      put([next, ...others]);
    },
    leave: () => {
      const [first = NONE, ...others] = latest.current;
      if (!isBegun(first)) return;
      put(others);
      void send(first);
    },
  };
}
