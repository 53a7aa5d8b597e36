import { Migration } from '@mikro-orm/migrations';

/** The first tables: people, workbooks, sheets, forms, records, and the log of changes. */
export class Migration202611250001 extends Migration {
  override up(): void {
    this.addSql(
      `create table "account" ("id" text not null, "name" text not null, "email" text not null, "password_hash" text not null, "demo" integer not null default false, primary key ("id"));`,
    );
    this.addSql(`create unique index "account_email_unique" on "account" ("email");`);
    this.addSql(
      `create table "running_number" ("column_id" text not null, "last" integer not null, primary key ("column_id"));`,
    );
    this.addSql(
      `create table "session" ("token_digest" text not null, "account_id" text not null, "expires_at" integer not null, constraint "session_account_id_foreign" foreign key("account_id") references "account"("id") on delete cascade on update cascade, primary key ("token_digest"));`,
    );
    this.addSql(`create index "session_account_id_index" on "session" ("account_id");`);
    this.addSql(
      `create table "upload" ("id" text not null, "account_id" text not null, "file_name" text not null, "bytes" integer not null, "at" integer not null, constraint "upload_account_id_foreign" foreign key("account_id") references "account"("id") on delete cascade on update cascade, primary key ("id"));`,
    );
    this.addSql(`create index "upload_account_id_index" on "upload" ("account_id");`);
    this.addSql(
      `create table "workbook" ("id" text not null, "name" text not null, "locale" text not null, "time_zone" text not null, primary key ("id"));`,
    );
    this.addSql(
      `create table "sheet" ("id" text not null, "workbook_id" text not null, "name" text not null, "place" integer not null, "heading_row" integer not null, "top_matter" json not null, "columns" json not null, "revision" integer not null, "arriving" integer not null default false, constraint "sheet_workbook_id_foreign" foreign key("workbook_id") references "workbook"("id") on delete cascade on update cascade, primary key ("id"));`,
    );
    this.addSql(`create index "sheet_workbook_id_index" on "sheet" ("workbook_id");`);
    this.addSql(
      `create table "record" ("id" text not null, "sheet_id" text not null, "order_key" double not null, "revision" integer not null, "cells" json not null, "removed_at" integer null, constraint "record_sheet_id_foreign" foreign key("sheet_id") references "sheet"("id") on delete cascade on update cascade, primary key ("id"));`,
    );
    this.addSql(`create index "record_in_order" on "record" ("sheet_id", "order_key");`);
    this.addSql(
      `create table "form" ("id" text not null, "sheet_id" text not null, "name" text not null, "place" integer not null, "definition" json not null, "revision" integer not null, constraint "form_sheet_id_foreign" foreign key("sheet_id") references "sheet"("id") on delete cascade on update cascade, primary key ("id"));`,
    );
    this.addSql(`create index "form_sheet_id_index" on "form" ("sheet_id");`);
    this.addSql(
      `create table "membership" ("workbook_id" text not null, "account_id" text not null, "role" text not null, constraint "membership_workbook_id_foreign" foreign key("workbook_id") references "workbook"("id") on delete cascade on update cascade, constraint "membership_account_id_foreign" foreign key("account_id") references "account"("id") on delete cascade on update cascade, primary key ("workbook_id", "account_id"));`,
    );
    this.addSql(`create index "membership_workbook_id_index" on "membership" ("workbook_id");`);
    this.addSql(`create index "membership_account_id_index" on "membership" ("account_id");`);
    this.addSql(
      `create table "change" ("id" integer not null primary key autoincrement, "workbook_id" text not null, "kind" text not null, "sheet_id" text not null, "record_id" text null, "revision" integer null, "write_id" text not null, "digest" text not null, "account_id" text not null, "door" text not null, "at" integer not null, "before" json null, "after" json null, "grid_row" integer null, "counted" integer null, "answer" json null, constraint "change_workbook_id_foreign" foreign key("workbook_id") references "workbook"("id") on delete cascade on update cascade, constraint "change_account_id_foreign" foreign key("account_id") references "account"("id") on update cascade);`,
    );
    this.addSql(`create unique index "change_of_write" on "change" ("write_id");`);
    this.addSql(`create index "change_of_workbook" on "change" ("workbook_id", "id");`);
  }

  override down(): void {
    this.addSql('drop table "change"');
    this.addSql('drop table "membership"');
    this.addSql('drop table "form"');
    this.addSql('drop table "record"');
    this.addSql('drop table "sheet"');
    this.addSql('drop table "workbook"');
    this.addSql('drop table "upload"');
    this.addSql('drop table "session"');
    this.addSql('drop table "running_number"');
    this.addSql('drop table "account"');
  }
}
