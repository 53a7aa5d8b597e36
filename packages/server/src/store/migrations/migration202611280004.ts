import { Migration } from '@mikro-orm/migrations';

/** Words that admit are kept by name, as digests. */
export class Migration202611280004 extends Migration {
  override up(): void {
    this.addSql(
      `create table "secret_word" ("workbook_id" text not null, "name" text not null, "salt" text not null, "digest" text not null, primary key ("workbook_id", "name"), constraint "secret_word_workbook_id_foreign" foreign key("workbook_id") references "workbook"("id") on delete cascade on update cascade);`,
    );
  }

  override down(): void {
    this.addSql(`drop table "secret_word";`);
  }
}
