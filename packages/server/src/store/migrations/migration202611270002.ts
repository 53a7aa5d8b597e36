import { Migration } from '@mikro-orm/migrations';

/** The log is found by record, and a row's move tells its order key as a record's does. */
export class Migration202611270002 extends Migration {
  override up(): void {
    this.addSql(`create index "change_of_record" on "change" ("record_id", "id");`);
    for (const side of ['before', 'after']) {
      this.addSql(`update "change"
        set "${side}" = json_object('orderKey', json_extract("${side}", '$.orderKey.value'))
        where "kind" = 'rowMoved' and json_type("${side}", '$.orderKey') = 'object';`);
    }
  }

  override down(): void {
    for (const side of ['before', 'after']) {
      this.addSql(`update "change" set "${side}" =
          json_object('orderKey', json_object('value', json_extract("${side}", '$.orderKey')))
        where "kind" = 'rowMoved' and json_type("${side}", '$.orderKey') <> 'object';`);
    }
    this.addSql(`drop index "change_of_record";`);
  }
}
