import { listCircle, sourceColumn, type StoredColumn } from '@varn/core';
import { Refused } from '../http/refused';
import type { Catalog, SheetFacts } from '../store/catalog';
import type { Decision } from './decision';

/** Refuses columns whose lists would feed one another in a circle. @throws Refused 409 with the way round */
export function refuseListCircles(
  { workbook }: SheetFacts,
  catalog: Pick<Catalog, 'sheetsOf'>,
  decisions: readonly Decision[],
): void {
  const reshaped = new Map(
    decisions.flatMap((each) =>
      each.kind === 'sheetChanged' ? [[each.sheetId, each] as const] : [],
    ),
  );
  const fed = [...reshaped.values()].flatMap(({ before, after }) =>
    after.columns.filter(({ id, settings }) => {
      const held = before.columns.find((column) => column.id === id);
      return settings.list !== undefined && held?.settings.list !== settings.list;
    }),
  );
  if (fed.length === 0) return;
  const named = new Map(workbook.names.map((each) => [each.id, each]));
  const columns = new Map<string, { readonly column: StoredColumn; readonly sheet: string }>();
  const sources = new Map<string, string>();
  for (const sheet of catalog.sheetsOf(workbook.id)) {
    for (const column of reshaped.get(sheet.id)?.after.columns ?? sheet.columns) {
      columns.set(column.id, { column, sheet: sheet.name });
      const { list } = column.settings;
      const source = list && sourceColumn(list.source, { name: (id) => named.get(id) });
      if (source) sources.set(column.id, source.column);
    }
  }
  for (const { id } of fed) {
    const way = listCircle(sources, id);
    if (!way) continue;
    const [first = '', ...rest] = [...way, id].map((each) => {
      const at = columns.get(each);
      return `‘${at?.column.heading ?? ''}’ of ${at?.sheet ?? ''}`;
    });
    throw Refused.conflict(
      'listCircle',
      `${first} would take its choices from ${rest.join(', and that from ')}: a circle. Choose another source for one of them.`,
    );
  }
}
