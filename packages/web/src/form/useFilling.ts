import type { FormView } from '@varn/contract';
import {
  broughtAlong,
  fill,
  isEntry,
  judgeInput,
  keptAnswers,
  localeFacts,
  pagesOf,
  prepareForm,
  serialNow,
  seenAnswers,
  startingAnswers,
  type Answers,
  type Cells,
  type Column,
  type Filling,
  type FormDefinition,
  type FormPage,
  type Kept,
  type PreparedForm,
  type ReadingContext,
} from '@varn/core';
import { useCallback, useDeferredValue, useEffect, useMemo, useRef, useState } from 'react';
import { useSheetLists, useTriedLists, type ListsByColumn } from '../api/lists';
import { afterPointer } from '../ui/afterPointer';
import { focusField, focusFirstField } from './focus';
import { useOwnStore } from '../api/ownStore';
import type { FilledIn, Submission } from './filledIn';
import { readKept, storeKept } from './keptStore';
import { useElsewhere, useTold } from './useElsewhere';
import { useEvaluator } from './useEvaluator';
import { useSteady } from './useSteady';

const NO_COLUMNS: readonly Column<string>[] = [];
const NO_LABELS: ReadonlyMap<string, string> = new Map();
const NO_PAGES: ReadonlySet<string> = new Set();
const MINUTE_MS = 60_000;
/** How long the focus takes to settle when another record begins. */
const SETTLING_MS = 120;

/** What was typed into a field that is gone. */
export interface LeftBehindAnswer {
  readonly inputId: string;
  readonly label: string;
  readonly text: string;
}

/** A form as it is filled in. */
export interface FormFilling extends FilledIn {
  readonly definition: FormDefinition;
  readonly prepared: PreparedForm<string>;
  readonly context: ReadingContext;
  /** The lists that feed its fields. */
  readonly lists: ListsByColumn;
  /** The serial of the server's now. */
  readonly now: () => number;
  /** What is made of the answers; while someone types fast, a key behind them. */
  readonly filling: Filling;
  /** What the answers come to as they stand at this moment: what a decision is taken on. */
  readonly submitNow: () => Submission;
  /** Whether what computes the formulas is still being loaded. */
  readonly isLoading: boolean;
  /** The inputs whose problem is told: left, or submitted, with it. */
  readonly revealed: ReadonlySet<string>;
  /** Inputs whose answers are meant, although they were asked about. */
  readonly meant: ReadonlySet<string>;
  /** Inputs in which what was typed before was kept. */
  readonly kept: ReadonlySet<string>;
  readonly mean: (inputId: string) => void;
  /** Whether anything differs from what the form began with. */
  readonly begun: boolean;
  /** How the fields are called that differ from what the form began with, by input id. */
  readonly typedLabels: () => Readonly<Record<string, string>>;
  /** What was typed into fields that are not in the form any more. */
  readonly leftBehind: readonly LeftBehindAnswer[];
  readonly dropLeftBehind: (inputId: string) => void;
  readonly type: (inputId: string, text: string) => void;
  readonly leave: (inputId: string) => void;
  readonly revealAll: () => void;
  /** The page that is shown, from 0. */
  readonly page: number;
  readonly goToPage: (page: number) => void;
  /** The page an input stands on. */
  readonly pageOf: (inputId: string) => number;
  /** The first page that is there and was not seen yet; `null` where all were. */
  readonly unseenPage: () => number | null;
  /** Goes on, unless something on this page is missing or wrong. */
  readonly nextPage: (at: number, pages: readonly FormPage<string>[]) => void;
  /** Goes to an input, wherever it stands. */
  readonly jump: (inputId: string) => void;
  /** Back to starting values; gives what stood there. */
  readonly clear: () => FilledIn;
  /** On to the next record, with what is kept. */
  readonly next: () => void;
  /** @param labels how fields were called that may be gone, by input id */
  readonly bringBack: (filled: FilledIn, labels?: Readonly<Record<string, string>>) => void;
}

/** The server's now in the workbook's zone, anew each minute, and at the moment it is asked for. */
function useNow({ now, timeZone }: Pick<FormView, 'now' | 'timeZone'>): {
  at: number;
  ask: () => number;
  askMs: () => number;
} {
  const [skew] = useState(() => now - Date.now());
  const [at, setAt] = useState(() => serialNow(now, timeZone));
  const askMs = useCallback(() => Math.round(Date.now() + skew), [skew]);
  const ask = useCallback(() => serialNow(askMs(), timeZone), [askMs, timeZone]);
  useEffect(() => {
    const beat = setInterval(() => setAt(ask()), MINUTE_MS);
    return () => clearInterval(beat);
  }, [ask]);
  return { at, ask, askMs };
}

interface FillingOptions {
  /** Whether the draft is filled in, not what is in use. */
  readonly draft?: boolean;
  /** What stands in the fields at first instead of starting values: those of a stored record. */
  readonly stored?: ((form: Pick<FormFilling, 'prepared' | 'context'>) => Answers) | undefined;
  /** That record: what the form does not write stays of it, and a choice that left its list may. */
  readonly held?: { readonly id: string; readonly cells: Cells } | undefined;
}

export function useFilling(
  form: FormView,
  { draft = false, stored, held }: FillingOptions = {},
): FormFilling {
  const { definition, sheet, locale } = form;
  const { at, ask, askMs } = useNow(form);
  const own = useOwnStore();
  const { nextTexts } = form;
  const inUse = useSheetLists(sheet.id, draft ? NO_COLUMNS : sheet.columns);
  const tried = useTriedLists(sheet.id, draft ? sheet.columns : null);
  const lists = draft ? tried : inUse.lists;
  const context = useMemo(
    () => ({
      locale: localeFacts(locale),
      now: at,
      next: ({ id }: Column) => nextTexts[id] ?? '',
      listed: (columnId: string) => lists.get(columnId)?.index,
      held: held?.cells ?? null,
    }),
    [locale, at, nextTexts, lists, held],
  );
  const prepared = useMemo(
    () => prepareForm(definition, new Map(sheet.columns.map((column) => [column.id, column]))),
    [definition, sheet.columns],
  );
  const begin = (keptBefore: Kept): FilledIn =>
    stored
      ? { answers: stored({ prepared, context }), untouched: new Set() }
      : startingAnswers(prepared, context, keptBefore);
  const [keptBefore, setKeptBefore] = useState<Kept>(() =>
    draft ? {} : readKept(own, form.id, Math.floor(at)),
  );
  const [filled, setFilled] = useState<FilledIn>(() => begin(keptBefore));
  const [start, setStart] = useState<FilledIn>(filled);
  const [revealed, setRevealed] = useState<ReadonlySet<string>>(new Set());
  const [meant, setMeant] = useState<ReadonlySet<string>>(new Set());
  const [page, setPage] = useState(0);
  const { answers, untouched } = filled;
  // A key is drawn in its field at once; what follows from it is worked out behind that.
  const settled = useDeferredValue(filled);

  const { elsewhere, tell, forget } = useTold(settled);
  const { formulas, evaluator, isLoading } = useEvaluator(form, prepared, context, elsewhere);
  const filling = useMemo(
    () => fill(prepared, { ...settled, meant }, context, evaluator),
    [prepared, settled, meant, context, evaluator],
  );
  const submissionOf = (of: FilledIn): Submission => {
    const pressedAt = askMs();
    const pressed = { ...context, now: serialNow(pressedAt, form.timeZone) };
    const filling = fill(prepared, { ...of, meant }, pressed, evaluator);
    return {
      filling,
      sent: {
        ...seenAnswers(prepared, of, filling),
        pressedAt,
        ...(meant.size > 0 && { meant: [...meant] }),
      },
    };
  };
  useElsewhere({
    formId: form.id,
    draft,
    recordId: held?.id,
    prepared,
    formulas,
    evaluator,
    filled: settled,
    filling,
    submissionOf,
    tell,
  });
  const isTypedOver = (id: string): boolean => (answers[id] ?? '') !== (start.answers[id] ?? '');
  // A field may go while it is filled in: what it was called is still known here.
  const [labels, setLabels] = useState<ReadonlyMap<string, string>>(NO_LABELS);
  if (prepared.inputs.some(({ id, label }) => labels.get(id) !== label)) {
    setLabels(
      new Map([...labels, ...prepared.inputs.map((each) => [each.id, each.label] as const)]),
    );
  }
  const leftBehind = useMemo(() => {
    const there = new Set(prepared.inputs.map(({ id }) => id));
    return Object.entries(answers).flatMap(([inputId, text]): LeftBehindAnswer[] => {
      const isLeft = !there.has(inputId) && text !== (start.answers[inputId] ?? '');
      return isLeft ? [{ inputId, label: labels.get(inputId) ?? 'A field', text }] : [];
    });
  }, [answers, prepared, start, labels]);
  const begun = leftBehind.length > 0 || prepared.inputs.some(({ id }) => isTypedOver(id));

  // A message goes as soon as its problem is cured, and comes back only on leaving the field again.
  const type = useSteady((inputId: string, text: string) => {
    setFilled((held) => broughtAlong(prepared, { inputId, text }, held, context));
    setMeant((held) => without(held, inputId));
    const input = prepared.inputs.find(({ id }) => id === inputId);
    if (!input || judgeInput(input, text, context).doubts.length === 0) {
      setRevealed((held) => without(held, inputId));
    }
  });
  // When the next record begins, the field of the one before is left by the page, not by a person.
  const resetAt = useRef(-Infinity);
  const leave = useCallback(
    (inputId: string) =>
      afterPointer(() => {
        if (performance.now() - resetAt.current < SETTLING_MS) return;
        setRevealed((held) => (held.has(inputId) ? held : new Set([...held, inputId])));
      }),
    [],
  );
  const reset = (to: FilledIn): void => {
    resetAt.current = performance.now();
    setFilled(to);
    setStart(to);
    setMeant(new Set());
    setRevealed(new Set());
    setPage(0);
    seen.current = NO_PAGES;
    forget();
  };

  // Pages come and go with the answers: they are told apart by what they begin with.
  const seen = useRef<ReadonlySet<string>>(NO_PAGES);
  const pages = shownPages(definition, filling);
  const pageId = pages[Math.min(page, pages.length - 1)]?.start?.id ?? '';
  useEffect(() => {
    seen.current = new Set([...seen.current, pageId]);
  }, [pageId, start]);

  const pageOf = (inputId: string): number => {
    const block = prepared.inputs.find(({ id }) => id === inputId)?.block;
    const pages = shownPages(definition, submissionOf(filled).filling);
    return Math.max(
      0,
      pages.findIndex(({ blocks }) => blocks.some(({ id }) => id === block?.id)),
    );
  };

  return {
    definition,
    prepared,
    context,
    lists,
    now: ask,
    answers,
    untouched,
    filling,
    submitNow: () => submissionOf(filled),
    isLoading: isLoading || inUse.isLoading,
    revealed,
    meant,
    kept: useMemo(
      () => new Set(Object.keys(keptBefore).filter((id) => answers[id] === keptBefore[id])),
      [keptBefore, answers],
    ),
    mean: useCallback((inputId: string) => setMeant((held) => new Set([...held, inputId])), []),
    begun,
    typedLabels: () =>
      Object.fromEntries([
        ...leftBehind.map(({ inputId, label }) => [inputId, label] as const),
        ...prepared.inputs.flatMap(({ id, label }) =>
          isTypedOver(id) ? [[id, label] as const] : [],
        ),
      ]),
    leftBehind,
    dropLeftBehind: (inputId) =>
      setFilled((held) => {
        const { [inputId]: _, ...rest } = held.answers;
        return { ...held, answers: rest };
      }),
    type,
    leave,
    revealAll: () => setRevealed(new Set(prepared.inputs.map(({ id }) => id))),
    page,
    goToPage: (to) => setPage(Math.max(0, to)),
    unseenPage: () => {
      const there = shownPages(definition, submissionOf(filled).filling);
      const at = there.findIndex(({ start: begin }) => !seen.current.has(begin?.id ?? ''));
      return at < 0 ? null : at;
    },
    pageOf,
    nextPage: (from, pages) => {
      const here = new Set(pages[from]?.blocks.filter(isEntry).map(({ id }) => id));
      const inputs = prepared.inputs.filter(({ block }) => here.has(block.id));
      const ids = new Set(inputs.map(({ id }) => id));
      const wrong = submissionOf(filled).filling.verdicts.find(
        ({ fieldId, problem }) => ids.has(fieldId) && problem.code !== 'nothingTyped',
      );
      if (!wrong) {
        setPage(from + 1);
        requestAnimationFrame(focusFirstField);
        return;
      }
      setRevealed((held) => new Set([...held, ...ids]));
      focusField(wrong.fieldId);
    },
    jump: useSteady((inputId: string) => {
      setPage(pageOf(inputId));
      requestAnimationFrame(() => focusField(inputId));
    }),
    clear: () => {
      setKeptBefore({});
      if (!draft) storeKept(own, form.id, Math.floor(at), {});
      reset(begin({}));
      return filled;
    },
    next: () => {
      const kept = keptAnswers(prepared, answers, untouched);
      setKeptBefore(kept);
      const byDay = prepared.inputs.filter(({ block }) => block.start?.kept);
      const lasting = byDay.flatMap(({ id }) => (kept[id] === undefined ? [] : [[id, kept[id]]]));
      if (!draft) storeKept(own, form.id, Math.floor(at), Object.fromEntries(lasting) as Kept);
      reset(begin(kept));
    },
    bringBack: (held, called = {}) => {
      setFilled(held);
      setRevealed(new Set());
      setLabels((known) => new Map([...Object.entries(called), ...known]));
    },
  };
}

/** The pages that are there now. */
export function shownPages(
  definition: FormDefinition,
  { shown }: Pick<Filling, 'shown'>,
): FormPage<string>[] {
  return pagesOf(definition).filter(({ start }) => !start || shown.has(start.id));
}

function without(held: ReadonlySet<string>, inputId: string): ReadonlySet<string> {
  return held.has(inputId) ? new Set([...held].filter((id) => id !== inputId)) : held;
}
