import { Migration } from '@mikro-orm/migrations';

/**
 * Rows outside of the records become rows of their own, with cells that hold values or formulas;
 * sheets may have no records, keep columns that were deleted, and how they are looked at.
 */
export class Migration202611250002 extends Migration {
  override up(): void {
    this.addSql(
      `create table "free_row" ("id" text not null, "sheet_id" text not null, "order_key" double not null, "revision" integer not null, "cells" json not null, "removed_at" integer null, constraint "free_row_sheet_id_foreign" foreign key("sheet_id") references "sheet"("id") on delete cascade on update cascade, primary key ("id"));`,
    );
    this.addSql(`create index "free_row_in_order" on "free_row" ("sheet_id", "order_key");`);
    this.addSql(`alter table "sheet" add column "has_records" integer not null default true;`);
    this.addSql(`alter table "sheet" add column "loose_columns" json not null default '[]';`);
    this.addSql(`alter table "sheet" add column "lost_columns" json not null default '[]';`);
    this.addSql(`alter table "sheet" add column "look" json not null default '{}';`);
    this.addSql(`alter table "sheet" add column "removed_at" integer null;`);
    this.addSql(`alter table "workbook" add column "names" json not null default '[]';`);
    this.addSql(`alter table "change" add column "batch" text null;`);
    this.addSql(`alter table "change" add column "undoes" text null;`);
    this.addSql(`create index "change_of_batch" on "change" ("batch");`);
    this.addSql(
      `create index "change_of_account" on "change" ("account_id", "workbook_id", "id");`,
    );
    this.addSql(`update "change" set "batch" = "write_id";`);
    // Top matter was rows of texts, perhaps wider than the records: those cells get loose columns.
    this.addSql(`update "sheet" set "loose_columns" = (
      select coalesce(json_group_array('loose-' || n.value || '-' || "sheet"."id"), '[]')
      from (with recursive place(value) as (select json_array_length("sheet"."columns") union all select value + 1 from place
        where value + 1 < (select max(json_array_length(r.value)) from json_each("sheet"."top_matter") r))
        select value from place where value < (select coalesce(max(json_array_length(r.value)), 0) from json_each("sheet"."top_matter") r)) n);`);
    this.addSql(`insert into "free_row" ("id", "sheet_id", "order_key", "revision", "cells")
      select lower(hex(randomblob(15))), s."id", (r.key + 1) * 1024, 1, (
        select coalesce(json_group_object(
          coalesce(json_extract(s."columns", '$[' || c.key || '].id'), 'loose-' || c.key || '-' || s."id"),
          json_object('value', c.value)), '{}')
        from json_each(r.value) c where c.value is not null)
      from "sheet" s, json_each(s."top_matter") r;`);
    this.addSql(`alter table "sheet" drop column "top_matter";`);
    this.addSql(`alter table "sheet" drop column "heading_row";`);
  }

  override down(): void {
    this.addSql(`alter table "sheet" add column "heading_row" integer not null default 1;`);
    this.addSql(`alter table "sheet" add column "top_matter" json not null default '[]';`);
    this.addSql('drop index "change_of_account"');
    this.addSql('drop index "change_of_batch"');
    this.addSql(`alter table "change" drop column "undoes";`);
    this.addSql(`alter table "change" drop column "batch";`);
    this.addSql(`alter table "workbook" drop column "names";`);
    for (const column of ['removed_at', 'look', 'lost_columns', 'loose_columns', 'has_records']) {
      this.addSql(`alter table "sheet" drop column "${column}";`);
    }
    this.addSql('drop table "free_row"');
  }
}
