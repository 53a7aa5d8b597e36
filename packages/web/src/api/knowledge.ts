import type { ColumnView } from '@varn/contract';

/** What is read may hold columns: a sheet, or the sheet of a form. */
interface Columned {
  readonly columns?: readonly ColumnView[];
  readonly sheet?: { readonly columns?: readonly ColumnView[] };
  /** Of a form: fields have rules of their own. */
  readonly definition?: unknown;
  /** Of a draft: the form as its users would see it. */
  readonly form?: unknown;
}

/** Loads what knows the phone numbers of all countries: it is large, and most forms have none. */
export const loadPhones = async (): Promise<void> => {
  await import('@varn/core/phones');
};

/** Loads what matches patterns, for the same reason. */
export const loadPatterns = async (): Promise<void> => {
  await import('@varn/core/patterns');
};

/** Loads what the columns of an answer of the server need, before they are shown. */
export async function loadKnowledgeFor(answer: unknown): Promise<void> {
  if (typeof answer !== 'object' || answer === null) return;
  const { columns, sheet, definition, form } = answer as Columned;
  if (form !== undefined) await loadKnowledgeFor(form);
  const all = Array.isArray(columns) ? (columns as readonly ColumnView[]) : (sheet?.columns ?? []);
  const rules = JSON.stringify([all.map(({ settings }) => settings.rules), definition]);
  await Promise.all([
    (rules.includes('"phone"') || all.some(isOfPhones)) && loadPhones(),
    rules.includes('"matches"') && loadPatterns(),
  ]);
}

const isOfPhones = ({ kind, settings }: ColumnView): boolean =>
  kind === 'phone' || settings.shownAs === 'phone';
