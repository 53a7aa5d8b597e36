import type { CellRefusal, EditCells, SheetView, Written } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useSWRConfig } from 'swr';
import { newId } from '../api/newId';
import { BegunPlace, type BegunWork } from '../api/begunWork';
import { ApiRefusal, NoAnswer, request, sayError } from '../api/client';
import { applyOwn } from '../api/events';
import { useOwnStore } from '../api/ownStore';
import { useSteady } from '../form/useSteady';
import type { Cells } from './useCells';

/** A record begun in the grid: it stays, as typed, until it is written. */
export interface Draft {
  /** The write id it is written with, in however many windows it comes up. */
  readonly id: string;
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

const blank = (): Draft => ({ id: newId(), answers: {}, verdicts: {}, meant: [], failure: '' });

/** What is kept of a draft, and what it was sent as if no answer came. */
interface KeptDraft extends Pick<Draft, 'answers' | 'meant' | 'above'> {
  readonly sent?: EditCells;
}

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

const keptOf = ({ answers, meant, above }: Draft): KeptDraft => ({
  answers,
  meant,
  ...(above && { above }),
});

function bodyOf({ id, answers, meant, above }: Draft, revision: number): EditCells {
  const typed = Object.fromEntries(
    Object.entries(answers).filter(([, text]) => text.trim() !== ''),
  );
  const added = {
    answers: typed,
    ...(meant.length > 0 && { meant: [...meant] }),
    ...(above && { above: above.id }),
  };
  return { writeId: id, revision, added: [added] };
}

/** The most drafts that are taken up at once of those that were left. */
const MOST_TAKEN_UP = 20;

/** The line on which a record is begun. */
export function useDraft(sheet: SheetView, inTurn: Cells['inTurn']): DraftRow {
  const { mutate } = useSWRConfig();
  const own = useOwnStore();
  const begun = useMemo(() => new BegunPlace<KeptDraft>(own, `sheet.${sheet.id}`), [own, sheet.id]);
  // The first is the one typed into; those behind it were refused and wait to be looked at.
  const [drafts, setDrafts] = useState<readonly Draft[]>(() => [blank()]);
  // What was typed a moment ago counts, although it is not on the screen yet.
  const latest = useRef(drafts);
  const put = (next: readonly Draft[]): void => {
    const held = new Set(next.map(({ id }) => id));
    for (const draft of latest.current) if (!held.has(draft.id)) leaveTo(draft);
    for (const draft of next) {
      if (isBegun(draft)) begun.keep(draft.id, keptOf(draft));
      else begun.drop(draft.id);
    }
    latest.current = next.length > 0 ? next : [blank()];
    begun.begin(latest.current[0]?.id ?? '');
    setDrafts(latest.current);
  };
  const sending = useRef(new Set<string>());
  /** What is neither typed into nor on its way is kept no more. */
  const leaveTo = ({ id }: Draft): void => {
    if (sending.current.has(id)) return;
    begun.drop(id);
    begun.release(id);
  };
  const [draft = blank()] = drafts;

  const comesBack = (refused: Draft): void => {
    const [first, ...others] = latest.current;
    put(first && isBegun(first) ? [first, ...others, refused] : [refused, ...others]);
  };

  const send = async (leaving: Draft, body: EditCells): Promise<void> => {
    sending.current.add(leaving.id);
    begun.keep(leaving.id, { ...keptOf(leaving), sent: body });
    try {
      const written = await inTurn(() => request<Written>('POST', paths.cells(sheet.id), body));
      for (const landed of written.records) {
        const { seq, kind, sheetId } = landed;
        const event = { seq, kind, sheetId, writeId: written.writeId, by: '', landed };
        applyOwn(mutate, sheet.workbookId, event);
      }
      sending.current.delete(leaving.id);
      leaveTo(leaving);
    } catch (error) {
      sending.current.delete(leaving.id);
      // Whoever left takes what is unanswered up again.
      if (error instanceof NoAnswer) return;
      const cells = error instanceof ApiRefusal ? (error.refusal.cells ?? []) : [];
      const verdicts = Object.fromEntries(cells.map((each) => [each.column, each]));
      // Another window wrote it under this id: what stands here is written under a new one, if at all.
      const isUsed = error instanceof ApiRefusal && error.refusal.code === 'writeIdUsed';
      const id = isUsed ? newId() : leaving.id;
      if (isUsed) leaveTo(leaving);
      comesBack({ ...leaving, id, verdicts, failure: cells.length > 0 ? '' : sayError(error) });
    }
  };

  const takeUp = useSteady((left: readonly BegunWork<KeptDraft>[]) => {
    for (const { id, work } of left) {
      const { sent, ...kept } = work;
      const found: Draft = { ...blank(), ...kept, id };
      if (sent) void send(found, sent);
      else comesBack(found);
    }
  });
  useEffect(() => {
    let isGone = false;
    const underWay = sending.current;
    void begun.takeUp(MOST_TAKEN_UP).then((left) => {
      if (!isGone) takeUp(left);
      else for (const { id } of left) begun.release(id);
    });
    return () => {
      isGone = true;
      for (const { id } of latest.current) begun.release(id);
      for (const id of underWay) begun.release(id);
    };
  }, [begun, takeUp]);

  return {
    draft,
    begun: isBegun(draft),
    refused: drafts.length > 1 ? drafts.length - 1 : 0,
    forget: () => put(latest.current.slice(1)),
    putAbove: (above) => {
      const [first = blank(), ...others] = latest.current;
      put([{ ...first, above }, ...others]);
    },
    type: (columnId, text) => {
      const [first = blank(), ...others] = latest.current;
      const { [columnId]: verdict, ...verdicts } = first.verdicts;
      const isMeant = verdict?.strictness === 'ask' && first.answers[columnId] === text;
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
      const [first = blank(), ...others] = latest.current;
      if (!isBegun(first)) return;
      void send(first, bodyOf(first, sheet.revision));
      put(others);
    },
  };
}
