import { Migration } from '@mikro-orm/migrations';

/** What was taken back, and what waits in the bin, is found without looking through all. */
export class Migration202611280001 extends Migration {
  override up(): void {
    this.addSql(
      `create index "change_that_undoes" on "change" ("undoes", "id") where "undoes" is not null;`,
    );
    this.addSql(
      `create index "record_in_bin" on "record" ("sheet_id", "removed_at") where "removed_at" is not null;`,
    );
  }

  override down(): void {
    this.addSql(`drop index "record_in_bin";`);
    this.addSql(`drop index "change_that_undoes";`);
  }
}
