import { Migration } from '@mikro-orm/migrations';

/**
 * A starting value is an answer unless it is a suggestion; before, it was none unless it said that
 * it counts. What each form stores stays the same.
 */
export class Migration202611270001 extends Migration {
  override up(): void {
    for (const [table, definition, at] of PLACES) {
      this.rewrite(
        table,
        definition,
        at,
        `case
          when json_extract(b.value, '$.start.counts') or json_extract(b.value, '$.readOnly')
            or json_extract(b.value, '$.start.kind') = 'beginning'
          then json_remove(b.value, '$.start.counts')
          else json_set(b.value, '$.start.suggestion', json('true')) end`,
      );
    }
  }

  override down(): void {
    for (const [table, definition, at] of PLACES) {
      this.rewrite(
        table,
        definition,
        at,
        `case
          when json_extract(b.value, '$.start.suggestion')
          then json_remove(b.value, '$.start.suggestion')
          else json_set(b.value, '$.start.counts', json('true')) end`,
      );
    }
  }

  /** Writes each block with a starting value anew. */
  private rewrite(table: string, definition: string, at: string, block: string): void {
    const blocks = `json_each("${table}"."${definition}", '${at}.blocks') b`;
    this
      .addSql(`update "${table}" set "${definition}" = json_set("${definition}", '${at}.blocks', json((
      select json_group_array(json(case when json_extract(b.value, '$.start') is null then b.value
        else ${block} end)) from ${blocks})))
      where exists (select 1 from ${blocks} where json_extract(b.value, '$.start') is not null);`);
  }
}

/** Where definitions of forms stand: table, column, path in it. */
const PLACES = [
  ['form', 'definition', '$'],
  ['form', 'draft', '$.definition'],
  ['form_version', 'definition', '$'],
] as const;
