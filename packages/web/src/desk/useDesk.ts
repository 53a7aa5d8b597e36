import type { FormView } from '@varn/contract';
import {
  fill,
  localeFacts,
  readField,
  serialNow,
  startingAnswers,
  type Answers,
  type Column,
  type Filling,
  type FormDefinition,
  type ReadingContext,
} from '@varn/core';
import { useCallback, useEffect, useMemo, useState } from 'react';

const MINUTE_MS = 60_000;

/** A form as it is filled in at the desk. */
export interface Desk {
  readonly definition: FormDefinition;
  readonly columns: ReadonlyMap<string, Column>;
  readonly context: ReadingContext;
  readonly answers: Answers;
  readonly filling: Filling;
  /** The fields whose problem is told: left, or submitted, with it. */
  readonly revealed: ReadonlySet<string>;
  /** Fields whose answers are meant, although they were asked about. */
  readonly meant: ReadonlySet<string>;
  readonly mean: (fieldId: string) => void;
  /** Whether anything differs from the starting values. */
  readonly begun: boolean;
  readonly type: (fieldId: string, text: string) => void;
  readonly leave: (fieldId: string) => void;
  readonly revealAll: () => void;
  /** Back to starting values; gives what stood there. */
  readonly clear: () => Answers;
  readonly bringBack: (answers: Answers) => void;
}

/** The server's now in the workbook's zone, anew each minute. */
function useNow({ now, timeZone }: Pick<FormView, 'now' | 'timeZone'>): number {
  const [skew] = useState(() => now - Date.now());
  const [at, setAt] = useState(() => serialNow(now, timeZone));
  useEffect(() => {
    const beat = setInterval(() => setAt(serialNow(Date.now() + skew, timeZone)), MINUTE_MS);
    return () => clearInterval(beat);
  }, [skew, timeZone]);
  return at;
}

export function useDesk(form: FormView): Desk {
  const { definition, sheet, locale } = form;
  const columns = useMemo(
    () => new Map(sheet.columns.map((column) => [column.id, column])),
    [sheet.columns],
  );
  const now = useNow(form);
  const context = useMemo(() => ({ locale: localeFacts(locale), now }), [locale, now]);
  const [answers, setAnswers] = useState<Answers>(() =>
    startingAnswers(definition, columns, context),
  );
  const [revealed, setRevealed] = useState<ReadonlySet<string>>(new Set());
  const [meant, setMeant] = useState<ReadonlySet<string>>(new Set());
  const filling = useMemo(
    () => fill(definition, answers, columns, context, meant),
    [definition, answers, columns, context, meant],
  );

  const start = startingAnswers(definition, columns, context);
  const begun = definition.fields.some(({ id }) => (answers[id] ?? '') !== (start[id] ?? ''));

  // A message goes as soon as its problem is cured, and comes back only on leaving the field again.
  const type = useCallback(
    (fieldId: string, text: string) => {
      setAnswers((held) => ({ ...held, [fieldId]: text }));
      setMeant((held) => without(held, fieldId));
      const field = definition.fields.find(({ id }) => id === fieldId);
      const column = field && columns.get(field.columnId);
      if (field && column && readField(field, column, text, context).problem === null) {
        setRevealed((held) => without(held, fieldId));
      }
    },
    [definition, columns, context],
  );
  const leave = useCallback(
    (fieldId: string) =>
      setRevealed((held) => (held.has(fieldId) ? held : new Set([...held, fieldId]))),
    [],
  );

  return {
    definition,
    columns,
    context,
    answers,
    filling,
    revealed,
    meant,
    mean: useCallback((fieldId: string) => setMeant((held) => new Set([...held, fieldId])), []),
    begun,
    type,
    leave,
    revealAll: () => setRevealed(new Set(definition.fields.map(({ id }) => id))),
    clear: () => {
      setAnswers(start);
      setMeant(new Set());
      setRevealed(new Set());
      return answers;
    },
    bringBack: (kept) => {
      setAnswers(kept);
      setRevealed(new Set());
    },
  };
}

function without(held: ReadonlySet<string>, fieldId: string): ReadonlySet<string> {
  return held.has(fieldId) ? new Set([...held].filter((id) => id !== fieldId)) : held;
}
