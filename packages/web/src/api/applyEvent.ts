import type {
  ChangeEvent,
  FormView,
  Landed,
  RecordView,
  SheetView,
  WorkbookView,
} from '@varn/contract';
import {
  formatRunningNumber,
  isErrorValue,
  runningNumberIn,
  parseRunningNumber,
  PLAIN_PATTERN,
} from '@varn/core';

/** A change as those who look on are told of it, or as a write's own answer tells it. */
export type Told = Omit<ChangeEvent, 'personId'>;

/** Whether a form's new records come right under the heading. */
export const landsOnTop = ({ definition }: Pick<FormView, 'definition'>): boolean =>
  definition.entering?.lands === 'top';

/** How many of the last records the desk keeps. */
const LAST_KEPT = 8;

/** A workbook's table of contents after a record was written. */
export function workbookAfter(workbook: WorkbookView, { landed, seq }: Told): WorkbookView {
  if (!landed || seq <= workbook.seq) return workbook;
  return {
    ...workbook,
    seq,
    sheets: workbook.sheets.map((sheet) =>
      sheet.id === landed.sheetId ? { ...sheet, records: landed.after } : sheet,
    ),
  };
}

export function sheetAfter(sheet: SheetView, { landed }: Told): SheetView {
  return landed && landed.sheetId === sheet.id ? { ...sheet, count: landed.after } : sheet;
}

/** What the desk shows after a record was written: count, last records, what comes next and is suggested. */
export function formAfter(form: FormView, event: Told): FormView {
  const { landed } = event;
  if (!landed || landed.sheetId !== form.sheet.id || event.seq <= form.seq) return form;
  return {
    ...form,
    seq: event.seq,
    sheet: sheetAfter(form.sheet, event),
    nextNumbers: nextNumbersAfter(form, landed),
    nextTexts: nextTextsAfter(form, landed),
    suggestions: suggestionsAfter(form, landed),
    last: lastAfter(form, landed),
  };
}

function nextNumbersAfter(form: FormView, { cells }: Landed): Record<string, number> {
  const next = { ...form.nextNumbers };
  for (const { id, kind, settings } of form.sheet.columns) {
    const given = cells[id];
    if (kind !== 'runningNumber' || typeof given !== 'string') continue;
    const number = parseRunningNumber(settings.pattern ?? PLAIN_PATTERN, given);
    if (number !== null) next[id] = Math.max(next[id] ?? 1, number + 1);
  }
  return next;
}

/** What was written may be the number that a field would have gone on with. */
function nextTextsAfter({ nextTexts }: FormView, { cells }: Landed): Record<string, string> {
  return Object.fromEntries(
    Object.entries(nextTexts).map(([id, text]) => {
      const next = runningNumberIn(text);
      const held = cells[id] ?? null;
      const given = isErrorValue(held) ? null : runningNumberIn(String(held));
      const isPast = next && given && given.number >= next.number;
      return [id, isPast ? formatRunningNumber(next.pattern, given.number + 1) : text];
    }),
  );
}

/** What was written for the first time is among what its column suggests from then on. */
function suggestionsAfter({ suggestions }: FormView, landed: Landed): FormView['suggestions'] {
  if (landed.kind === 'recordRemoved' || landed.trial) return suggestions;
  const news = Object.entries(suggestions).flatMap(([id, held]): [string, string[]][] => {
    const text = landed.cells[id];
    return typeof text === 'string' && !held.includes(text) ? [[id, [text, ...held]]] : [];
  });
  return news.length > 0 ? { ...suggestions, ...Object.fromEntries(news) } : suggestions;
}

function lastAfter(form: FormView, landed: Landed): FormView['last'] {
  const { last, sheet } = form;
  const position = landed.row - sheet.headingRow - 1;
  const at = position - last.from;
  const kept = last.records.filter(({ id }) => id !== landed.recordId);
  const count = landed.after;
  if (landed.kind === 'recordRemoved') {
    const from = kept.length === last.records.length && at < 0 ? last.from - 1 : last.from;
    return { from: Math.max(0, from), count, records: kept };
  }
  // Past those that are kept from the top nothing is seen to change.
  if (landsOnTop(form) && at >= LAST_KEPT) return { ...last, count };
  if (at < 0 && landed.kind !== 'recordChanged') return { ...last, from: last.from + 1, count };
  if (at < 0) return { ...last, count };
  const records = kept.toSpliced(at, 0, recordOf(landed, sheet));
  if (landsOnTop(form)) return { from: last.from, count, records: records.slice(0, LAST_KEPT) };
  const cut = Math.max(0, records.length - LAST_KEPT);
  return { from: last.from + cut, count, records: records.slice(cut) };
}

/** A landed record with its values in the order of the sheet's columns. */
export function recordOf(
  { recordId, revision, cells, trial }: Landed,
  { columns }: SheetView,
): RecordView {
  const values = columns.map(({ id }) => cells[id] ?? null);
  return { id: recordId, revision, cells: values, ...(trial && { trial }) };
}
