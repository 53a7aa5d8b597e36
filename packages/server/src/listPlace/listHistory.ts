import type { ListHistoryEntry } from '@varn/contract';
import { isErrorValue, type CellValue } from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Feed } from '../lists/lists';
import { ChangeLog } from '../log/changeLog';
import { doorName } from '../log/doorName';
import { isRecordLine, isRowLine, type Line } from '../log/line';
import { Catalog } from '../store/catalog';
import { Account } from '../store/entities';
import { Store } from '../store/store';

/** How far back the log is looked through, and how much is told. */
const MOST_LOOKED = 5000;
const MOST_TOLD = 50;

/** Tells what happened to the items of a list: read off the log of what feeds it. */
@Injectable()
export class ListHistory {
  constructor(
    private readonly log: ChangeLog,
    private readonly catalog: Catalog,
    private readonly store: Store,
  ) {}

  /** The newest first. */
  async of(workbookId: string, { source, live }: Feed): Promise<ListHistoryEntry[]> {
    if (source.sheetId === null) return [];
    const lines = await this.log.ofSheet(workbookId, source.sheetId, MOST_LOOKED);
    const told = lines
      .flatMap((line) => changesIn(line, source.columnId).map((change) => ({ line, change })))
      .filter(({ change }) => source.columnId !== null || isOfList(change, live))
      .slice(0, MOST_TOLD);
    const names = await this.namesOf(told.map(({ line }) => line.accountId));
    const show = (value: CellValue): string | undefined =>
      value === null || isErrorValue(value) ? undefined : source.shape.show(value).trim();
    return told.flatMap(({ line, change }): ListHistoryEntry[] => {
      const [before, after] = [show(change.before), show(change.after)];
      if (before === after) return [];
      return [
        {
          seq: line.seq,
          at: line.at,
          by: names.get(line.accountId) ?? '',
          door: doorName(line.door, (id) => this.catalog.anyForm(id)?.name),
          what: before === undefined ? 'came' : after === undefined ? 'gone' : 'renamed',
          ...(before !== undefined && { before }),
          ...(after !== undefined && { after }),
        },
      ];
    });
  }

  private async namesOf(ids: readonly string[]): Promise<ReadonlyMap<string, string>> {
    const accounts = await this.store.em().find(Account, { id: { $in: [...new Set(ids)] } });
    return new Map(accounts.map(({ id, name }) => [id, name]));
  }
}

interface ValueChanged {
  readonly before: CellValue;
  readonly after: CellValue;
}

/** What a line changed of the cells that feed a list. @param columnId of records; else of free cells */
function changesIn(line: Line, columnId: string | null): ValueChanged[] {
  if (columnId !== null) {
    if (!isRecordLine(line) || line.kind === 'recordMoved') return [];
    return [{ before: line.before?.[columnId] ?? null, after: line.after?.[columnId] ?? null }];
  }
  if (!isRowLine(line) || line.kind === 'rowMoved') return [];
  const [before, after] = [line.before ?? {}, line.after ?? {}];
  return [...new Set([...Object.keys(before), ...Object.keys(after)])].map((id) => ({
    before: before[id]?.value ?? null,
    after: after[id]?.value ?? null,
  }));
}

/** Whether a changed cell outside of the records is one of the list's, as far as values tell. */
function isOfList({ before, after }: ValueChanged, live: Feed['live']): boolean {
  return after !== null && (live?.index.holding(after).length ?? 0) > 0
    ? true
    : after === null && before !== null;
}
