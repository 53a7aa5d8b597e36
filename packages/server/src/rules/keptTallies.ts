import { BrokenTally, type BrokenRecords, type StoredColumn } from '@varn/core';
import { Injectable } from '@nestjs/common';
import { SheetCache } from '../store/sheetCache';
import { inTurns, Turns } from '../turns/turns';
import type { Looked } from './looked';

/** Counts that are kept up to date; the longest unused gives way. */
const MOST_KEPT = 24;

/** A count with what it was made of: any of it another one, it is made anew. */
interface Kept {
  readonly tally: BrokenTally;
  readonly of: readonly unknown[];
  /** Asked twice at once, it is brought up to date once after the other. */
  readonly turns: Turns;
}

/** Counts of what breaks rules, so that after an edit only what it touched is counted again. */
@Injectable()
export class KeptTallies {
  private readonly kept = new Map<string, Kept>();

  constructor(cache: SheetCache) {
    cache.onDrop((sheetId) => {
      for (const name of [...this.kept.keys()]) if (name.startsWith(`${sheetId} `)) this.drop(name);
    });
  }

  /**
   * The records that break rules of a column.
   *
   * @param most how many of them are told one by one
   */
  async broken(looked: Looked, ruled: StoredColumn, most: number): Promise<BrokenRecords> {
    const { tally, turns } = this.keptFor(looked, ruled);
    return turns.take(async () => {
      await inTurns(tally.refresh());
      return tally.told(most);
    });
  }

  private keptFor({ sheet, columns, model, context }: Looked, ruled: StoredColumn): Kept {
    const { locale, now } = context;
    const name = `${sheet.id} ${ruled.id} ${JSON.stringify(ruled.settings.rules)}`;
    // What is past today is another tomorrow.
    const of = [model, columns, locale.tag, Math.floor(now)];
    const known = this.kept.get(name);
    const isSame = known?.of.every((each, n) => each === of[n]) === true;
    if (known && !isSame) this.drop(name);
    const kept =
      known && isSame
        ? known
        : { tally: new BrokenTally(model, ruled, { ...context, columns }), of, turns: new Turns() };
    this.kept.delete(name);
    this.kept.set(name, kept);
    const [oldest = name] = this.kept.keys();
    if (this.kept.size > MOST_KEPT) this.drop(oldest);
    return kept;
  }

  private drop(name: string): void {
    this.kept.get(name)?.tally.stop();
    this.kept.delete(name);
  }
}
