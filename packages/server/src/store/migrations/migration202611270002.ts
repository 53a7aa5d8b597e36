import { Migration } from '@mikro-orm/migrations';

/**
 * The log is found by record, and a row's move tells its order key as a record's does. The columns
 * that a draft plans carry their formulas.
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
