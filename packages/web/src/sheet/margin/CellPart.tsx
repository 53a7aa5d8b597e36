import { Box, Button, Stack, Text } from '@chakra-ui/react';
import { sayCountOf } from '@varn/core';
import { Notice } from '../../ui/Notice';
import { CellLookPart } from './CellLookPart';
import { freeFace, freeText, recordFace } from '../cells/faces';
import { PointedAt } from '../formula/FormulaPanel';
import { lineAt } from '../lines';
import { activeOf, at } from '../selection';
import { sayOutcome, spotKey } from '../useCells';
import { useFreeRows, useRecords } from '../useRows';
import type { GridState } from '../useSheetGrid';

/** The most cells listed that could not be placed. */
const MOST_LISTED = 100;

/** The active cell: its whole value, its formula, why it is an error or was not written. */
export function CellPart({ grid }: { grid: GridState }) {
  const { sheet, lines, locale, selection, cells, viewParameter } = grid;
  const spot = activeOf(selection);
  const what = lineAt(lines, spot.line);
  const column = sheet.columns[spot.column];
  const position = what.is === 'record' ? what.position : 0;
  const record = useRecords(sheet.id, position, viewParameter).at(position);
  const number = what.is === 'free' ? what.row : 1;
  const free = useFreeRows(sheet.id, number - 1).at(number)?.cells[spot.column] ?? null;
  const face =
    what.is === 'free'
      ? freeFace(free, locale)
      : column && record
        ? recordFace(record.cells, spot.column, grid.faces)
        : null;
  const formula = what.is === 'free' ? free?.formula : column?.settings.formula;
  const mark = grid.markOf(spot);
  const { outcome } = cells;
  return (
    <Stack gap="3">
      <Box>
        <Text color="ink.soft">
          {grid.addressOf(spot)}
          {column && what.is !== 'free' ? ` · ${column.heading}` : ''}
        </Text>
        <Text fontFamily="mono" whiteSpace="pre-wrap" overflowWrap="anywhere">
          {face?.text || 'blank'}
        </Text>
        {formula !== undefined && (
          <Text fontFamily="mono" color="ink.soft" overflowWrap="anywhere">
            {formula}
          </Text>
        )}
        {face && face.note !== '' && (
          <Notice tone={face.tone === 'error' ? 'refuse' : 'ask'}>{face.note}</Notice>
        )}
        {free?.covered && (
          <Text color="ink.soft">Filled by an array whose formula stands elsewhere.</Text>
        )}
      </Box>
      {mark?.is === 'refused' && (
        <Box>
          <Notice tone={mark.strictness}>
            {mark.message}
            {mark.span && <PointedAt text={mark.text} from={mark.span[0]} to={mark.span[1]} />}
          </Notice>
          {mark.strictness === 'ask' && <Text color="ink.soft">Enter it again to keep it.</Text>}
          <Button size="xs" mt="2" variant="outline" onClick={() => grid.dropMark(spot)}>
            Discard what was typed
          </Button>
        </Box>
      )}
      {outcome && outcome.unplaced.length > 0 && (
        <Box>
          <Text fontWeight="600">{sayOutcome(outcome)}</Text>
          <Stack gap="1" maxH="40vh" overflow="auto">
            {outcome.unplaced.slice(0, MOST_LISTED).map((each) => (
              <Button
                key={spotKey(each)}
                size="xs"
                variant="ghost"
                justifyContent="start"
                h="auto"
                py="1"
                whiteSpace="normal"
                textAlign="start"
                onClick={() => grid.select(at(each))}
              >
                {grid.addressOf(each)} ‘{each.text}’: {each.message}
              </Button>
            ))}
            {outcome.unplaced.length > MOST_LISTED && (
              <Text color="ink.soft">
                and {sayCountOf(outcome.unplaced.length - MOST_LISTED, 'cell')} more
              </Text>
            )}
          </Stack>
        </Box>
      )}
      {free && grid.mayShape && what.is === 'free' && !free.covered && (
        <Button size="xs" variant="outline" alignSelf="start" onClick={() => grid.edit(spot)}>
          {freeText(free, locale) === '' ? 'Type into it' : 'Change it'}
        </Button>
      )}
      {grid.mayShape && what.is === 'free' && <CellLookPart grid={grid} cell={free} />}
    </Stack>
  );
}
