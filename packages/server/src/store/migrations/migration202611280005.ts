import { Migration } from '@mikro-orm/migrations';

/** A workbook has a usual currency; that of earlier ones is what it was. */
export class Migration202611280005 extends Migration {
  override up(): void {
    this.addSql(`alter table "workbook" add column "currency" text not null default 'EUR';`);
  }

  override down(): void {
    this.addSql(`alter table "workbook" drop column "currency";`);
  }
}
