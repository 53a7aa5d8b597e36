import { Box, Button, Field, HStack, Stack, Text, Textarea } from '@chakra-ui/react';
import type { ColumnView } from '@varn/contract';
import type { Offer } from '@varn/core';
import { useId, useState, type KeyboardEvent } from 'react';
import { Tick } from '../../ui/controls';
import { FormulaPanel } from '../formula/FormulaPanel';
import { useFormulaHelp } from '../formula/useFormulaHelp';
import type { GridState } from '../useSheetGrid';
import type { Change } from './Conversion';
import { LimitsTable } from './LimitsTable';

interface FormulaPartProps {
  readonly grid: GridState;
  readonly column: ColumnView;
  readonly onChange: (change: Change) => void;
}

/** The formula of a computed column: one for every record. */
export function FormulaPart({ grid, column, onChange }: FormulaPartProps) {
  const held = column.settings.formula ?? '';
  const isComputed = column.kind === 'computed';
  const [open, setOpen] = useState<'formula' | 'limits' | null>(null);
  if (!isComputed && open === null) {
    return (
      <HStack>
        <Button size="xs" variant="outline" onClick={() => setOpen('formula')}>
          Compute it
        </Button>
        <Button size="xs" variant="outline" onClick={() => setOpen('limits')}>
          Table of limits
        </Button>
      </HStack>
    );
  }
  const follows = column.settings.follows === true;
  const propose = (formula: string): void => {
    onChange({ kind: 'computed', formula, follows: isComputed ? follows : true });
  };
  return (
    <Stack gap="3">
      {open === 'limits' ? (
        <LimitsTable
          grid={grid}
          column={column}
          formula={held.slice(1)}
          onDone={(formula) => (formula === null ? setOpen(null) : propose(formula))}
        />
      ) : (
        <FormulaField
          key={held}
          grid={grid}
          column={column}
          held={held}
          onDone={(formula) => (formula === null ? setOpen(null) : propose(formula))}
        />
      )}
      {isComputed && open !== 'limits' && (
        <>
          <Tick
            label="Follows: always computed from the current values"
            checked={follows}
            onChange={(on) => onChange({ follows: on })}
          />
          {!follows && (
            <Text color="ink.soft" fontSize="12px">
              As of writing: computed once, when the record is written.
            </Text>
          )}
          <Button size="xs" variant="outline" alignSelf="start" onClick={() => setOpen('limits')}>
            Table of limits
          </Button>
        </>
      )}
    </Stack>
  );
}

interface FormulaFieldProps {
  readonly grid: GridState;
  readonly column: ColumnView;
  readonly held: string;
  /** @param formula the formula to be used, or `null` to leave it */
  readonly onDone: (formula: string | null) => void;
}

function FormulaField({ grid, column, held, onDone }: FormulaFieldProps) {
  const { sheet, locale } = grid;
  const [text, setText] = useState(held === '' ? '=' : held);
  const [caret, setCaret] = useState(text.length);
  const panelId = useId();
  const help = useFormulaHelp({ sheet, columnId: column.id, locale }, text, caret);
  const accept = (offer: Offer): void => {
    const put = help.accept(offer);
    setText(put.text);
    setCaret(put.caret);
  };
  const stops = help.verdict?.notes.some(({ strictness }) => strictness === 'refuse') ?? false;
  const isOther = text !== held && text !== '=';
  const onKeyDown = (event: KeyboardEvent): void => {
    const { offers, chosen } = help;
    const offer = offers[chosen];
    const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (step !== 0 && offers.length > 0) help.point(step);
    else if (event.key === 'Enter' && offer !== undefined) accept(offer);
    else if (event.key === 'Enter' && !event.altKey) {
      // What can't be read stays to be set right.
      if (!stops && isOther) onDone(text);
    } else return;
    event.preventDefault();
  };
  return (
    <Field.Root>
      <Field.Label>Formula for every record</Field.Label>
      <Textarea
        size="sm"
        rows={3}
        bg="leaf"
        borderColor="edge"
        fontFamily="mono"
        value={text}
        aria-controls={panelId}
        spellCheck={false}
        onChange={(event) => {
          const { value, selectionStart } = event.target;
          // Its sign stands there once, whoever typed it.
          const written = `=${value.replace(/^[=\s]+/, '')}`;
          setText(written);
          setCaret(Math.max(1, selectionStart + written.length - value.length));
        }}
        onSelect={(event) => setCaret(event.currentTarget.selectionStart)}
        onKeyDown={onKeyDown}
      />
      <Box w="full" role="status">
        <FormulaPanel id={panelId} help={help} text={text} onAccept={accept} />
      </Box>
      {isOther && (
        <HStack>
          <Button size="xs" disabled={stops} onClick={() => onDone(text)}>
            See what it would change
          </Button>
          <Button
            size="xs"
            variant="outline"
            onClick={() => {
              setText(held === '' ? '=' : held);
              onDone(null);
            }}
          >
            Cancel
          </Button>
        </HStack>
      )}
    </Field.Root>
  );
}
