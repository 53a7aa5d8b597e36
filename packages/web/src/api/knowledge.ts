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

/** Loads what matches patterns, for the same reason. */
export const loadPatterns = async (): Promise<void> => {
  await import('@varn/core/patterns');
};

/** Loads what the columns of an answer of the server need, before they are shown. */
export async function loadKnowledgeFor(answer: unknown): Promise<void> {
  if (typeof answer !== 'object' || answer === null) return;
  const { columns, sheet } = answer as Columned;
  const all = Array.isArray(columns) ? (columns as readonly ColumnView[]) : (sheet?.columns ?? []);
  await Promise.all([
    all.some(knowsPhones) && loadPhones(),
    all.some((column) => isRuled(column, 'matches')) && loadPatterns(),
  ]);
}

/** Whether a column shows phone numbers, or holds what is typed against what they are. */
const knowsPhones = (column: ColumnView): boolean =>
  column.kind === 'phone' || column.settings.shownAs === 'phone' || isRuled(column, 'phone');

const isRuled = ({ settings: { rules } }: ColumnView, by: 'phone' | 'matches'): boolean =>
  rules !== undefined && JSON.stringify(rules).includes(`"${by}"`);
