import { Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { NameView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useState } from 'react';
import useSWR from 'swr';
import { newId } from '../../api/newId';
import { request } from '../../api/client';
import { Line } from '../../ui/controls';
import { RangeField } from '../RangeField';
import { referenceFor } from '../formula/ranges';
import { boxOf } from '../selection';
import type { Deleting } from '../useDeleting';
import type { GridState } from '../useSheetGrid';

interface NamesPartProps {
  readonly grid: GridState;
  readonly askToDelete: Deleting['ask'];
}

/** The named ranges of the workbook, and a name for what is chosen. */
export function NamesPart({ grid, askToDelete }: NamesPartProps) {
  const { sheet, lines, selection, mayShape, cells } = grid;
  const { data: names = [] } = useSWR<NameView[], unknown>(paths.names(sheet.workbookId), {
    revalidateOnMount: true,
  });
  const chosen = referenceFor(boxOf(selection.last), sheet, lines, {
    ownSheet: true,
    inRecord: false,
  });
  const [typed, setTyped] = useState<string | null>(null);
  const [name, setName] = useState('');
  const range = typed ?? chosen;
  const give = (text: string): void => {
    setName(text);
    const writeId = newId();
    void cells
      .send(({ id }) => request('POST', paths.sheetNames(id), { writeId, name: text, range }))
      .then((given) => {
        if (given !== null) setName('');
        setTyped(null);
      });
  };
  return (
    <Stack gap="4">
      {mayShape && (
        <Stack gap="3">
          <RangeField
            label="Range"
            workbookId={sheet.workbookId}
            sheetId={sheet.id}
            value={range}
            onPut={setTyped}
          />
          <Line
            key={names.length}
            label="Name of the range"
            hint="Letters, figures and _, then Enter"
            value={name}
            onPut={give}
          />
        </Stack>
      )}
      {names.length === 0 && (
        <Text color="ink.soft">No range of this workbook has a name yet.</Text>
      )}
      {names.map((each) => (
        <HStack key={each.id} justify="space-between" borderTopWidth="1px" pt="2">
          <Text overflowWrap="anywhere">
            <Text as="span" fontWeight="600">
              {each.name}
            </Text>
            <br />
            <Text as="span" fontFamily="mono" color="ink.soft">
              {each.range}
            </Text>
          </Text>
          {mayShape && (
            <Button
              size="xs"
              variant="outline"
              aria-label={`Delete the name ${each.name}`}
              onClick={() =>
                askToDelete(
                  `The name ${each.name}`,
                  { nameId: each.id },
                  () => void cells.send(({ id }) => request('DELETE', paths.name(id, each.id))),
                )
              }
            >
              Delete
            </Button>
          )}
        </HStack>
      ))}
    </Stack>
  );
}
