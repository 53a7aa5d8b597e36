import { Box, Field, Input } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import {
  judgeCell,
  ruleDoubts,
  sayProblem,
  type Column,
  type LocaleFacts,
  type Rule,
} from '@varn/core';
import { useMemo, useState } from 'react';
import { Notice } from '../../ui/Notice';

interface TryValueProps {
  readonly rules: readonly Rule[];
  readonly column: Column;
  readonly sheet: SheetView;
  readonly locale: LocaleFacts;
  /** The serial of now in the workbook's zone. */
  readonly now: number;
}

/** A line in which a value is tried: what would be said of it, and whether it would be stored. */
export function TryValue({ rules, column, sheet, locale, now }: TryValueProps) {
  const [text, setText] = useState('');
  const told = useMemo(() => {
    if (text.trim() === '') return null;
    const ruled = { ...column, settings: { ...column.settings, rules } };
    const context = { locale, now };
    const { value, doubts } = judgeCell({ typed: text }, ruled, { context });
    const columns = new Map<string, Column>(sheet.columns.map((each) => [each.id, each]));
    const broken = ruleDoubts(ruled, value, { columns, context, cells: {} });
    const [doubt] = [...doubts, ...broken];
    return doubt
      ? { tone: doubt.strictness, says: sayProblem(doubt.problem) }
      : { tone: 'settled' as const, says: 'It passes.' };
  }, [text, rules, column, sheet.columns, locale, now]);
  return (
    <Box>
      <Field.Root>
        <Field.Label>Try a value</Field.Label>
        <Input
          enterKeyHint="go"
          size="sm"
          bg="leaf"
          borderColor="edge"
          value={text}
          onChange={(event) => setText(event.target.value)}
        />
      </Field.Root>
      <Box role="status" mt="1">
        {told && <Notice tone={told.tone}>{told.says}</Notice>}
      </Box>
    </Box>
  );
}
