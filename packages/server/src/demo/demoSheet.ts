import type { CellValue, Column, ColumnSettings, KindId } from '@varn/core';

/** A sheet of the demo: what it is called, its columns, and its records. */
export interface DemoSheet {
  readonly name: string;
  /** The rows above the heading, which stands right under them. */
  readonly topMatter: (string | null)[][];
  readonly columns: readonly Column<never>[];
  readonly records: Iterable<CellValue[]>;
}

/** A column of the demo; its id tells its sheet and heading, so that tests read well. */
export function demoColumn(
  sheet: string,
  heading: string,
  kind: KindId,
  settings: ColumnSettings<never> = {},
): Column<never> {
  const slug = (text: string): string =>
    text
      .toLowerCase()
      .replace('%', 'percent')
      .replace(/[^a-z]+/g, '-')
      .replace(/-$/, '');
  return { id: `${slug(sheet)}.${slug(heading)}`, heading, kind, settings };
}
