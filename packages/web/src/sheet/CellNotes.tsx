import { Box, HStack, Stack, Text } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import {
  formatAddress,
  fromWire,
  isOfKind,
  kindOf,
  rowOfPosition,
  sayCountOf,
  showValue,
  type Kind,
  type LocaleFacts,
} from '@varn/core';
import { KindGlyph } from '../ui/KindGlyph';
import { Margin } from '../ui/Margin';
import { useRows } from './useRows';

const FILLED_BY: Readonly<Record<Kind['filledBy'], string>> = {
  people: 'Filled in by people',
  varn: 'Filled in by Varn',
  formula: 'Computed',
};
const CHOICES_SHOWN = 60;

interface CellNotesProps {
  readonly sheet: SheetView;
  readonly locale: LocaleFacts;
  /** The active cell: its record's position and its column's, from 0. */
  readonly row: number;
  readonly column: number;
  readonly onClose: () => void;
}

/** The margin of a sheet: the active cell's whole value, and what its column holds. */
export function CellNotes({ sheet, locale, row, column: index, onClose }: CellNotesProps) {
  const record = useRows(sheet.id, row)(row);
  const column = sheet.columns[index];
  if (!column) return null;
  const kind = kindOf(column);
  const { unit, choices = [] } = column.settings;
  const value = fromWire(record?.cells[index] ?? null, column);
  return (
    <Margin title="Cell and column" onClose={onClose}>
      <Stack gap="4">
        <Box>
          <Text color="ink.soft">
            {formatAddress({ column: index, row: rowOfPosition(sheet, row) })}
          </Text>
          <Text fontFamily="mono" whiteSpace="pre-wrap" overflowWrap="anywhere">
            {showValue(value, column, locale) || 'blank'}
          </Text>
          {!isOfKind(value, column) && (
            <Text color="amber">Kept as text: not of the kind {kind.label.toLowerCase()}.</Text>
          )}
        </Box>
        <Box borderTopWidth="1px" pt="3">
          <Text fontWeight="600">{column.heading}</Text>
          <HStack>
            <KindGlyph kind={column.kind} />
            <Text>
              {kind.label}
              {unit === undefined ? '' : `, in ${unit}`}
            </Text>
          </HStack>
          <Text color="ink.soft">{FILLED_BY[kind.filledBy]}</Text>
        </Box>
        {choices.length > 0 && (
          <Box borderTopWidth="1px" pt="3">
            <Text fontWeight="600">{sayCountOf(choices.length, 'choice')}</Text>
            {choices.slice(0, CHOICES_SHOWN).map((choice) => (
              <Text key={choice}>{choice}</Text>
            ))}
            {choices.length > CHOICES_SHOWN && <Text color="ink.soft">and more</Text>}
          </Box>
        )}
      </Stack>
    </Margin>
  );
}
