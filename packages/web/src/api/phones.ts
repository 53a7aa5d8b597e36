import type { ColumnView } from '@varn/contract';

/** What is read may hold columns: a sheet, or the sheet of a form. */
interface Columned {
  readonly columns?: readonly ColumnView[];
  readonly sheet?: { readonly columns?: readonly ColumnView[] };
}

/** Loads what knows the phone numbers of all countries: it is large, and most forms have none. */
export const loadPhones = async (): Promise<void> => {
  await import('@varn/core/phones');
};

/** The same where an answer of the server has a column of phones, before it is shown. */
export async function loadPhonesFor(answer: unknown): Promise<void> {
  if (typeof answer !== 'object' || answer === null) return;
  const { columns, sheet } = answer as Columned;
  const all = Array.isArray(columns) ? (columns as readonly ColumnView[]) : (sheet?.columns ?? []);
  if (all.some(knowsPhones)) await loadPhones();
}

/** Whether a column shows phone numbers, or holds what is typed against what they are. */
const knowsPhones = ({ kind, settings }: ColumnView): boolean =>
  kind === 'phone' ||
  settings.shownAs === 'phone' ||
  (settings.rules !== undefined && JSON.stringify(settings.rules).includes('"phone"'));
