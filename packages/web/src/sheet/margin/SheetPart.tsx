import { Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { SheetLook, WorkbookView } from '@varn/contract';
import { MOST_LINES } from '@varn/contract/limits';
import { paths } from '@varn/contract/paths';
import { sayCountOf } from '@varn/core';
import { useNavigate } from 'react-router';
import { addresses } from '../../addresses';
import { request } from '../../api/client';
import { Choice, Line } from '../../ui/controls';
import type { Deleting } from '../useDeleting';
import type { GridState } from '../useSheetGrid';

/** Columns that can be frozen from here; a sheet brought in may have more. */
const MOST_FROZEN = 5;

interface SheetPartProps {
  readonly grid: GridState;
  readonly workbook: WorkbookView;
  readonly askToDelete: Deleting['ask'];
}

/** The sheet itself: its name and place, how it is looked at, columns that were deleted. */
export function SheetPart({ grid, workbook, askToDelete }: SheetPartProps) {
  const { sheet, cells, mayShape } = grid;
  const navigate = useNavigate();
  const place = workbook.sheets.findIndex(({ id }) => id === sheet.id);
  const change = (body: object): void =>
    void cells.send(({ id, revision }) => request('PATCH', paths.sheet(id), { ...body, revision }));
  const look = (part: SheetLook): void => change({ look: { ...sheet.look, ...part } });
  if (!mayShape) {
    return <Text>{sayCountOf(sheet.count, 'record')}, kept by the workbook’s analysts.</Text>;
  }
  const remove = async (): Promise<void> => {
    const gone = await cells.send(async ({ id, revision }) => {
      await request('DELETE', `${paths.sheet(id)}?revision=${revision}`);
      return true;
    });
    if (gone) await navigate(addresses.contents(workbook.id));
  };
  const frozen = sheet.look.frozenColumns ?? 0;
  return (
    <Stack gap="4">
      <Line label="Name of the sheet" value={sheet.name} onPut={(name) => change({ name })} />
      <HStack>
        <Button
          size="xs"
          variant="outline"
          disabled={place <= 0}
          onClick={() => change({ place: place - 1 })}
        >
          Move up in the contents
        </Button>
        <Button
          size="xs"
          variant="outline"
          disabled={place >= workbook.sheets.length - 1}
          onClick={() => change({ place: place + 1 })}
        >
          Down
        </Button>
      </HStack>
      <Choice
        label="Columns that stay in view"
        value={String(frozen)}
        options={Array.from({ length: Math.max(MOST_FROZEN, frozen) + 1 }, (_, n) => [
          String(n),
          n === 0 ? 'None' : n === 1 ? 'The first' : `The first ${n}`,
        ])}
        onChange={(text) => look({ frozenColumns: Number(text) })}
      />
      <Choice
        label="Lines of text in a row"
        value={String(sheet.look.rowLines ?? 1)}
        options={Array.from({ length: MOST_LINES }, (_, n) => [String(n + 1), String(n + 1)])}
        onChange={(text) => look({ rowLines: Number(text) })}
      />
      {sheet.lost.length > 0 && (
        <Stack gap="1">
          <Text fontWeight="600">Deleted columns</Text>
          {sheet.lost.map(({ id: columnId, heading }) => (
            <HStack key={columnId} justify="space-between">
              <Text>{heading}</Text>
              <Button
                size="xs"
                variant="outline"
                aria-label={`Put ${heading} back`}
                onClick={() =>
                  void cells.send(({ id, revision }) =>
                    request('POST', `${paths.column(id, columnId)}/put-back`, { revision }),
                  )
                }
              >
                Put back
              </Button>
            </HStack>
          ))}
        </Stack>
      )}
      <Button
        size="xs"
        variant="outline"
        color="madder"
        alignSelf="start"
        disabled={workbook.sheets.length === 1}
        onClick={() => askToDelete(`The sheet ${sheet.name}`, {}, () => void remove())}
      >
        Delete the sheet
      </Button>
      <Text color="ink.soft" fontSize="12px">
        You can undo this in any other sheet of the workbook.
      </Text>
    </Stack>
  );
}
