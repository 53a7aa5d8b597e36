import { Migration } from '@mikro-orm/migrations';

/** Questions are kept by name; what was written today is counted without looking through all. */
export class Migration202611280002 extends Migration {
  override up(): void {
    this.addSql(
      `create table "question" ("id" text not null, "workbook_id" text not null, "form_id" text not null, "account_id" text not null, "name" text not null, "address" text not null, "is_shared" integer not null, primary key ("id"), constraint "question_workbook_id_foreign" foreign key("workbook_id") references "workbook"("id") on delete cascade on update cascade, constraint "question_form_id_foreign" foreign key("form_id") references "form"("id") on delete cascade on update cascade, constraint "question_account_id_foreign" foreign key("account_id") references "account"("id") on delete cascade on update cascade);`,
    );
    this.addSql(`create index "question_of_workbook" on "question" ("workbook_id");`);
    this.addSql(
      `create index "change_of_day" on "change" ("sheet_id", "at", "account_id", "record_id") where "kind" = 'recordAdded';`,
    );
  }

  override down(): void {
    this.addSql(`drop index "change_of_day";`);
    this.addSql(`drop table "question";`);
  }
}
