import { Migration } from '@mikro-orm/migrations';

/** Forms become blocks, with drafts and versions; files are stored. */
export class Migration202611250003 extends Migration {
  override up(): void {
    this.addSql(`alter table "form" add column "version" integer not null default 0;`);
    this.addSql(`alter table "form" add column "draft" json null;`);
    this.addSql(`alter table "form" add column "draft_revision" integer not null default 0;`);
    this.addSql(
      `create table "form_version" ("form_id" text not null, "version" integer not null, "definition" json not null, "account_id" text null, "at" integer not null, constraint "form_version_form_id_foreign" foreign key("form_id") references "form"("id") on delete cascade on update cascade, constraint "form_version_account_id_foreign" foreign key("account_id") references "account"("id") on delete set null on update cascade, primary key ("form_id", "version"));`,
    );
    this.addSql(`create index "form_version_form_id_index" on "form_version" ("form_id");`);
    this.addSql(
      `create table "stored_file" ("id" text not null, "workbook_id" text not null, "account_id" text not null, "name" text not null, "type" text not null, "bytes" integer not null, "at" integer not null, constraint "stored_file_workbook_id_foreign" foreign key("workbook_id") references "workbook"("id") on delete cascade on update cascade, constraint "stored_file_account_id_foreign" foreign key("account_id") references "account"("id") on update cascade, primary key ("id"));`,
    );
    // A form was a list of fields that found their rows by themselves.
    this.addSql(`update "form" set "version" = 1, "definition" = json_object('blocks', json((
      select json_group_array(json(json_remove(
        json_patch(json_patch(json_patch(f.value, '{"is":"field","beside":true}'),
          case when json_extract(f.value, '$.several') then '{"control":"lines"}' else '{}' end),
          case when json_extract(f.value, '$.start') is null then '{}' else '{"start":{"counts":true}}' end),
        '$.several')))
      from json_each("form"."definition", '$.fields') f)));`);
    this.addSql(
      `insert into "form_version" ("form_id", "version", "definition", "at") select "id", 1, "definition", unixepoch() * 1000 from "form";`,
    );
  }

  override down(): void {
    this.addSql(`update "form" set "definition" = json_object('fields', json((
      select json_group_array(json(f.value)) from json_each("form"."definition", '$.blocks') f
      where json_extract(f.value, '$.is') = 'field')));`);
    this.addSql('drop table "stored_file"');
    this.addSql('drop table "form_version"');
    for (const column of ['draft_revision', 'draft', 'version']) {
      this.addSql(`alter table "form" drop column "${column}";`);
    }
  }
}
