import { Box, Button } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import type { Column } from '@varn/core';
import { useMemo, useState } from 'react';
import { useSWRConfig } from 'swr';
import { request, sayError } from '../../api/client';
import { readAnew } from '../../api/events';
import { Notice } from '../../ui/Notice';
import { Conversion, type Change } from '../margin/Conversion';

interface KeepCurrentProps {
  /** What the filled column is to be computed by; `null` where no formula says it. */
  readonly formula: string | null;
  readonly target: Column | undefined;
  readonly sheet: SheetView;
  /** Computes a column that is not in the sheet yet; gives whether it is one. */
  readonly onPlannedKept: ((column: Column, formula: string) => boolean) | undefined;
  readonly onKept: () => void;
}

/**
 * Choosing writes into other fields at that time; a column that is computed instead follows its
 * source from then on. What becomes of its stored values is shown first.
 */
export function KeepCurrent(props: KeepCurrentProps) {
  const { formula, target, sheet, onPlannedKept, onKept } = props;
  const { mutate } = useSWRConfig();
  const [isAsked, setAsked] = useState(false);
  const [failure, setFailure] = useState('');
  const change = useMemo(
    (): Change => ({ kind: 'computed', formula: formula ?? '', follows: true }),
    [formula],
  );
  if (formula === null || !target) return null;
  const ask = (): void => {
    if (onPlannedKept?.(target, formula)) onKept();
    else setAsked(true);
  };
  const done = async (wanted: Change | null): Promise<void> => {
    setAsked(false);
    if (!wanted) return;
    try {
      const body = { ...wanted, revision: sheet.revision };
      await request('PATCH', paths.column(sheet.id, target.id), body);
      await mutate(paths.sheet(sheet.id));
      setFailure('');
      readAnew(mutate, '/api/forms/', paths.workbook(sheet.workbookId));
      onKept();
    } catch (error) {
      setFailure(sayError(error));
    }
  };
  const column = sheet.columns.find(({ id }) => id === target.id);
  return (
    <>
      <Button size="xs" variant="outline" mb="1" aria-expanded={isAsked} onClick={ask}>
        Keep {target.heading} current instead
      </Button>
      {isAsked && column && (
        <Box flexBasis="100%" mb="2">
          <Conversion
            sheet={sheet}
            column={column}
            change={change}
            onDone={(wanted) => void done(wanted)}
          />
        </Box>
      )}
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
    </>
  );
}
