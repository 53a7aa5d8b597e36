import type { Written } from '@varn/contract';
import { useRef, useState } from 'react';
import { sayError } from '../api/client';
import { editsOf, type Kept } from './cells/plan';
import type { Cells, Outcome } from './useCells';

/** What tells a kept cell from all others. */
export const keptKey = ({ row, columnId }: Kept): string => `${row}|${columnId}`;

export interface KeptCells {
  readonly all: readonly Kept[];
  /** Why nothing could be placed. */
  readonly failure: string;
  readonly isPlacing: boolean;
  readonly type: (kept: Kept, text: string) => void;
  /** Writes cells with the texts they have by now; what is refused again stays. */
  readonly place: (kept: readonly Kept[]) => Promise<void>;
  readonly drop: (kept: readonly Kept[]) => void;
}

/** Cells that a paste did not write: at hand until they are corrected and placed, or dropped. */
export function useKept(cells: Cells): KeptCells {
  const [all, setAll] = useState<readonly Kept[]>([]);
  const [seen, setSeen] = useState<Outcome | null>(null);
  const [failure, setFailure] = useState('');
  const [isPlacing, setPlacing] = useState(false);
  // A key that is pressed twice places once.
  const underWay = useRef(false);
  const { outcome } = cells;
  if (outcome !== seen) {
    setSeen(outcome);
    if (outcome?.kept && outcome.kept.length > 0) {
      const fresh = outcome.kept;
      const keys = new Set(fresh.map(keptKey));
      setAll([...all.filter((each) => !keys.has(keptKey(each))), ...fresh]);
    }
  }
  return {
    all,
    failure,
    isPlacing,
    type: (kept, text) =>
      setAll((held) =>
        held.map((each) =>
          // Another text was not asked about yet.
          keptKey(each) === keptKey(kept) ? { ...each, text, strictness: 'refuse' } : each,
        ),
      ),
    place: async (kept) => {
      if (underWay.current) return;
      underWay.current = true;
      setPlacing(true);
      setFailure('');
      try {
        const placed = withTheirRows(kept, all);
        const { edits, rows } = editsOf(placed);
        const written = await cells.place(edits);
        for (const each of placed) cells.drop(keptKey(each));
        setAll((held) => afterPlacing(held, placed, rows, edits, written));
      } catch (error) {
        setFailure(sayError(error));
      }
      underWay.current = false;
      setPlacing(false);
    },
    drop: (kept) => {
      for (const each of kept) cells.drop(keptKey(each));
      const gone = new Set(kept.map(keptKey));
      setAll((held) => held.filter((each) => !gone.has(keptKey(each))));
    },
  };
}

/** A row that is not written yet is written as a whole. */
function withTheirRows(kept: readonly Kept[], all: readonly Kept[]): Kept[] {
  const rows = new Set(kept.flatMap(({ row, record }) => (record ? [] : [row])));
  return all.filter((each) => kept.includes(each) || rows.has(each.row));
}

/** What is still kept: what was refused again, with why, and what was not tried. */
function afterPlacing(
  held: readonly Kept[],
  placed: readonly Kept[],
  addedRows: readonly string[],
  edits: ReturnType<typeof editsOf>['edits'],
  { refused, records }: Written,
): Kept[] {
  const tried = new Set(placed.map(keptKey));
  const refusals = new Map(
    refused.map((each) => {
      const row = each.list === 'records' ? edits.records?.[each.at]?.id : addedRows[each.at];
      return [`${row ?? ''}|${each.column}`, each];
    }),
  );
  const revisions = new Map(records.map(({ recordId, revision }) => [recordId, revision]));
  return held.flatMap((each) => {
    const id = each.record?.id ?? refusals.get(keptKey(each))?.recordId;
    const revision = revisions.get(id ?? '') ?? each.record?.revision;
    const record = id !== undefined && revision !== undefined ? { id, revision } : null;
    const now = { ...each, record };
    if (!tried.has(keptKey(each))) return [now];
    const again = refusals.get(keptKey(each));
    if (!again) return [];
    const { message, strictness } = again;
    return [{ ...now, message, strictness, rest: record ? {} : each.rest }];
  });
}
