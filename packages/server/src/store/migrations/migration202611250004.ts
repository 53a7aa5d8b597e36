import { Migration } from '@mikro-orm/migrations';

/** Forms can wait in the bin. */
export class Migration202611250004 extends Migration {
  override up(): void {
    this.addSql(`alter table "form" add column "removed_at" integer null;`);
  }

  override down(): void {
    this.addSql(`alter table "form" drop column "removed_at";`);
  }
}
