import { Stack } from '@chakra-ui/react';
import {
  kindOf,
  type Block,
  type Column,
  type FieldBlock,
  type GroupBlock,
  type StartingValue,
  sayFirstNumbers,
} from '@varn/core';
import { Choice, Line, Tick } from '../ui/controls';
import { FormulaLine } from './FormulaLine';
import { set } from './edits';
import type { Composing } from './useCompose';

interface StartFieldsProps {
  readonly composing: Composing;
  readonly block: FieldBlock | GroupBlock;
  readonly column: Column<string>;
  readonly put: (to: (held: FieldBlock | GroupBlock) => Block) => void;
}

/** What stands in a field before anyone types. */
export function StartFields({ composing, block, column, put }: StartFieldsProps) {
  const { start } = block;
  const { iso } = kindOf(column);
  const putStart = (next: StartingValue | undefined): void =>
    put((held) => set(held, 'start', next));
  const options: (readonly [string, string])[] = [
    ['', 'Nothing'],
    ['text', 'A text'],
    ...(column.kind === 'text' ? [['beginning', 'A beginning to type on'] as const] : []),
    ...(iso === 'date' || iso === 'moment' ? [['today', 'Today'] as const] : []),
    ...(iso === 'time' || iso === 'moment' ? [['now', 'Now'] as const] : []),
    ...(column.kind === 'text' || column.kind === 'wholeNumber'
      ? [['next', 'The next number'] as const]
      : []),
    ['formula', 'A formula'],
  ];
  const choose = (kind: string): void => {
    if (kind === 'text') putStart({ kind, text: '' });
    else if (kind === 'beginning') putStart({ kind, text: '' });
    else if (kind === 'today' || kind === 'now') putStart({ kind });
    else if (kind === 'next') putStart({ kind });
    else if (kind === 'formula') putStart({ kind, formula: '' });
    else putStart(undefined);
  };
  return (
    <Stack gap="2">
      <Choice label="Starts with" value={start?.kind ?? ''} options={options} onChange={choose} />
      {(start?.kind === 'text' || start?.kind === 'beginning') && (
        <Line
          label={start.kind === 'text' ? 'The text' : 'The beginning'}
          value={start.text}
          onPut={(text) => putStart({ ...start, text })}
        />
      )}
      {start?.kind === 'next' && column.kind === 'text' && (
        <Line
          label="Written like"
          hint={
            start.pattern === undefined
              ? 'A-000 gives A-001. Left blank, as the highest one is written.'
              : `Where none is stored yet: ${sayFirstNumbers(start.pattern)} …`
          }
          value={start.pattern ?? ''}
          onPut={(pattern) => putStart(set(start, 'pattern', pattern || undefined))}
        />
      )}
      {start?.kind === 'formula' && (
        <FormulaLine
          composing={composing}
          label="The formula"
          value={start.formula}
          onPut={(formula) => putStart({ ...start, formula })}
        />
      )}
      {start && start.kind !== 'beginning' && (
        <Tick
          label="Only a suggestion: no answer until it is used"
          checked={start.suggestion ?? false}
          onChange={(checked) => putStart(set(start, 'suggestion', checked || undefined))}
        />
      )}
      {start && (
        <Tick
          label="What I type is kept until the day changes"
          checked={start.kept ?? false}
          onChange={(checked) => putStart(set(start, 'kept', checked || undefined))}
        />
      )}
    </Stack>
  );
}
