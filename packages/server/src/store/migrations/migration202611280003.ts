import { Migration } from '@mikro-orm/migrations';

/** The outbox keeps notices that would be mailed. */
export class Migration202611280003 extends Migration {
  override up(): void {
    this.addSql(
      `create table "notice" ("id" text not null, "workbook_id" text not null, "account_id" text not null, "at" integer not null, "subject" text not null, "text" text not null, "link" text null, "about" text not null, "is_over" integer not null default false, "read_at" integer null, primary key ("id"), constraint "notice_workbook_id_foreign" foreign key("workbook_id") references "workbook"("id") on delete cascade on update cascade, constraint "notice_account_id_foreign" foreign key("account_id") references "account"("id") on delete cascade on update cascade);`,
    );
    this.addSql(`create index "notice_of_person" on "notice" ("workbook_id", "account_id", "at");`);
  }

  override down(): void {
    this.addSql(`drop table "notice";`);
  }
}
