import { Box, Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { ColumnView, ConversionView, SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { KINDS, sayCount, sayCountOf, type ColumnSettings, type KindId } from '@varn/core';
import { useEffect, useState } from 'react';
import { request, sayError } from '../../api/client';
import { Notice } from '../../ui/Notice';

/** Another kind or formula for a column, not yet carried out. */
export interface Change {
  readonly kind?: KindId;
  readonly settings?: ColumnSettings;
  readonly formula?: string;
  readonly follows?: boolean;
}

interface ConversionProps {
  readonly sheet: SheetView;
  readonly column: ColumnView;
  readonly change: Change;
  /** @param change what is to be carried out, or `null` to leave it */
  readonly onDone: (change: Change | null) => void;
}

/** What a change would do to the stored values, before it is done. */
export function Conversion({ sheet, column, change, onDone }: ConversionProps) {
  const [found, setFound] = useState<{ of: Change; view?: ConversionView; failure?: string }>();
  useEffect(() => {
    const asks = new AbortController();
    const { signal } = asks;
    const body = { ...change, revision: sheet.revision };
    request<ConversionView>('POST', paths.conversion(sheet.id, column.id), body, { signal }).then(
      (view) => signal.aborted || setFound({ of: change, view }),
      (error: unknown) => signal.aborted || setFound({ of: change, failure: sayError(error) }),
    );
    return () => {
      asks.abort();
    };
  }, [change, column.id, sheet.id, sheet.revision]);
  const { view, failure } = found?.of === change ? found : {};
  const isFormula = change.formula !== undefined || change.follows !== undefined;
  const what = isFormula ? 'the formula' : KINDS[change.kind ?? column.kind].label.toLowerCase();
  return (
    <Box
      borderWidth="1px"
      borderColor="brass"
      borderRadius="4px"
      p="3"
      bg="leaf"
      role="region"
      aria-label="What would change"
    >
      {failure !== undefined && <Notice tone="refuse">{failure}</Notice>}
      {!view && failure === undefined && <Text>Looking through the values…</Text>}
      {view && (
        <Stack gap="2">
          <Text fontWeight="600">With {what}:</Text>
          <Text>
            {sayCountOf(view.converted, 'value')} would change, {sayCount(view.same)} stay as they
            are.
          </Text>
          {view.kept > 0 && (
            <Notice tone="ask">
              {isFormula
                ? `${sayCountOf(view.kept, 'value')} ${view.kept === 1 ? 'differs' : 'differ'} from what the formula gives now, and ${view.kept === 1 ? 'stays' : 'stay'} as written.`
                : `${sayCountOf(view.kept, 'value')} ${view.kept === 1 ? 'doesn’t fit the new kind: it stays as text, marked' : 'don’t fit the new kind: they stay as text, marked'}.`}
            </Notice>
          )}
          {[...view.examples, ...view.problems].map(({ row, from, to }) => (
            <Text key={`${row}`} fontSize="12px" color="ink.soft" overflowWrap="anywhere">
              Row {sayCount(row)}: {from || 'blank'} → {to || 'blank'}
            </Text>
          ))}
        </Stack>
      )}
      <HStack mt="3">
        <Button size="xs" disabled={!view} onClick={() => onDone(change)}>
          Change it
        </Button>
        <Button size="xs" variant="outline" onClick={() => onDone(null)}>
          Cancel
        </Button>
      </HStack>
    </Box>
  );
}
