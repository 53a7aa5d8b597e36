import { Migration } from '@mikro-orm/migrations';

/**
 * The log is found by record, and a row's move tells its order key as a record's does. The columns
 * that a draft plans carry their formulas. A scale says its first and last number itself; those
 * that did not went from 0 to 10.
 */
export class Migration202611270002 extends Migration {
  override up(): void {
    this.addSql(`create index "change_of_record" on "change" ("record_id", "id");`);
    for (const side of ['before', 'after']) {
      this.addSql(`update "change"
        set "${side}" = json_object('orderKey', json_extract("${side}", '$.orderKey.value'))
        where "kind" = 'rowMoved' and json_type("${side}", '$.orderKey') = 'object';`);
    }
    this.addSql(`update "form" set "draft" = json_remove(json_set("draft", '$.columns', json((
        select json_group_array(json(case when f.value is null then c.value
          else json_set(c.value, '$.settings.formula', json(f.value)) end))
        from json_each("form"."draft", '$.columns') c
        left join json_each("form"."draft", '$.formulas') f on f.key = json_extract(c.value, '$.id')
      ))), '$.formulas')
      where json_type("draft", '$.formulas') = 'object';`);
    for (const [table, definition, at] of PLACES) {
      const blocks = `json_each("${table}"."${definition}", '${at}.blocks') b`;
      this
        .addSql(`update "${table}" set "${definition}" = json_set("${definition}", '${at}.blocks', json((
        select json_group_array(json(case when ${IS_SCALE} then json_set(b.value,
            '$.details.from', coalesce(json_extract(b.value, '$.details.from'), 0),
            '$.details.to', coalesce(json_extract(b.value, '$.details.to'), 10))
          else b.value end)) from ${blocks})))
        where exists (select 1 from ${blocks} where ${IS_SCALE});`);
    }
  }

  override down(): void {
    for (const side of ['before', 'after']) {
      this.addSql(`update "change" set "${side}" =
          json_object('orderKey', json_object('value', json_extract("${side}", '$.orderKey')))
        where "kind" = 'rowMoved' and json_type("${side}", '$.orderKey') <> 'object';`);
    }
    this.addSql(`update "form" set "draft" = json_set("draft", '$.formulas', json((
        select json_group_object(json_extract(c.value, '$.id'),
          json(json_extract(c.value, '$.settings.formula')))
        from json_each("form"."draft", '$.columns') c
        where json_extract(c.value, '$.settings.formula') is not null
      ))) where "draft" is not null;`);
    this.addSql(`drop index "change_of_record";`);
  }
}

const IS_SCALE = `json_extract(b.value, '$.control') = 'scale'`;

/** Where definitions of forms stand: table, column, path in it. */
const PLACES = [
  ['form', 'definition', '$'],
  ['form', 'draft', '$.definition'],
  ['form_version', 'definition', '$'],
] as const;
