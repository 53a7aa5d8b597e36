import { Button, HStack, Input, Stack, Text } from '@chakra-ui/react';
import type { ColumnView } from '@varn/contract';
import {
  checkLimits,
  limitsFormula,
  readLimits,
  readNumber,
  type LimitClass,
  type LimitsProblem,
  type WrittenReference,
} from '@varn/core';
import { useState } from 'react';
import { Choice } from '../../ui/controls';
import { Notice } from '../../ui/Notice';
import type { GridState } from '../useSheetGrid';

interface LimitsTableProps {
  readonly grid: GridState;
  readonly column: ColumnView;
  /** The column's formula, which may be of such a table. */
  readonly formula: string;
  readonly onDone: (formula: string | null) => void;
}

interface Row {
  readonly from: string;
  readonly label: string;
}

const headingOf = (heading: string): WrittenReference => ({
  kind: 'heading',
  sheet: null,
  heading,
});

/** Classes by limits: each class begins where the one before it ends, so none is left between. */
export function LimitsTable({ grid, column, formula, onDone }: LimitsTableProps) {
  const { sheet, locale } = grid;
  const others = sheet.columns.filter(({ id }) => id !== column.id);
  const [of, setOf] = useState(() => {
    const held = others.find(({ heading }) => readLimits(formula, headingOf(heading), locale));
    const numeric = others.find(({ kind }) => kind === 'number' || kind === 'wholeNumber');
    return (held ?? numeric ?? others[0])?.heading ?? '';
  });
  const [rows, setRows] = useState<readonly Row[]>(() => {
    const held = readLimits(formula, headingOf(of), locale);
    const say = (limit: number | null): string =>
      limit === null ? '' : String(limit).replace('.', locale.decimal);
    return (
      held?.map(({ from, label }) => ({ from: say(from), label })) ?? [
        { from: '', label: '' },
        { from: '', label: '' },
      ]
    );
  });
  const [problem, setProblem] = useState('');
  const put = (at: number, change: Partial<Row>): void =>
    setRows(rows.map((row, n) => (n === at ? { ...row, ...change } : row)));

  const use = (): void => {
    const classes = rows.map(({ from, label }, n): LimitClass => {
      const read = readNumber(from, locale);
      const limit = read.ok && typeof read.value === 'number' ? read.value : null;
      return { from: n === 0 ? null : limit, label };
    });
    const wrong = checkLimits(classes);
    setProblem(wrong ? sayLimitsProblem(wrong) : '');
    if (!wrong) onDone(`=${limitsFormula(headingOf(of), classes, locale)}`);
  };

  return (
    <Stack gap="2" role="group" aria-label="Table of limits">
      <Choice
        label="Classes of"
        value={of}
        options={others.map(({ heading }) => [heading, heading])}
        onChange={setOf}
      />
      {rows.map(({ from, label }, n) => (
        <HStack key={n} gap="2">
          <Text w="44px" flex="none" color="ink.soft">
            {n === 0 ? 'below' : 'from'}
          </Text>
          {n === 0 ? (
            <Text w="72px" flex="none" fontFamily="mono" textAlign="end" px="2">
              {rows[1]?.from || '…'}
            </Text>
          ) : (
            <Input
              size="sm"
              w="72px"
              flex="none"
              bg="leaf"
              borderColor="edge"
              fontFamily="mono"
              textAlign="end"
              aria-label={`Limit ${n}`}
              value={from}
              onChange={(event) => put(n, { from: event.target.value })}
            />
          )}
          <Input
            size="sm"
            bg="leaf"
            borderColor="edge"
            aria-label={`Class ${n + 1}`}
            placeholder="Class"
            value={label}
            onChange={(event) => put(n, { label: event.target.value })}
          />
        </HStack>
      ))}
      <HStack wrap="wrap">
        <Button
          size="xs"
          variant="outline"
          onClick={() => setRows([...rows, { from: '', label: '' }])}
        >
          Add a class
        </Button>
        {rows.length > 2 && (
          <Button size="xs" variant="outline" onClick={() => setRows(rows.slice(0, -1))}>
            Remove the last
          </Button>
        )}
      </HStack>
      {problem !== '' && <Notice tone="refuse">{problem}</Notice>}
      <HStack>
        <Button size="xs" onClick={use}>
          See what it would change
        </Button>
        <Button size="xs" variant="outline" onClick={() => onDone(null)}>
          Cancel
        </Button>
      </HStack>
    </Stack>
  );
}

function sayLimitsProblem(problem: LimitsProblem): string {
  switch (problem.code) {
    case 'tooFewClasses':
      return 'A table of limits has two classes at least.';
    case 'labelMissing':
      return `Class ${problem.at + 1} has no name yet.`;
    case 'limitMissing':
      return `Limit ${problem.at} is not a number yet.`;
    case 'limitNotRising':
      return `Limit ${problem.at} must be over the one before it.`;
  }
}
