import { Box, Button, Field, HStack, Input, Stack, Textarea } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useRef, useState, type SubmitEvent } from 'react';
import { useNavigate, useParams } from 'react-router';
import { useSWRConfig } from 'swr';
import { request, sayError } from '../api/client';
import { useWorkbook } from '../api/resources';
import { addresses } from '../addresses';
import { PlaceBar } from '../keys/PlaceBar';
import { Choice } from '../ui/controls';
import { Notice } from '../ui/Notice';
import { Shell } from '../ui/Shell';

type Holds = 'records' | 'cells';

const HOLDS: readonly (readonly [Holds, string])[] = [
  ['records', 'Records, under headings'],
  ['cells', 'Cells of any sort: choices, notes, summaries'],
];

/** Adds a sheet to a workbook: with a record block, or of free cells. */
export function AddSheetPage() {
  const { workbookId = '' } = useParams();
  const { data: workbook } = useWorkbook(workbookId);
  const [name, setName] = useState('');
  const [holds, setHolds] = useState<Holds>('records');
  const [headings, setHeadings] = useState('');
  const [failure, setFailure] = useState('');
  const { mutate } = useSWRConfig();
  const navigate = useNavigate();
  // One sheet, however often it is asked for.
  const writeId = useRef(crypto.randomUUID());

  const add = async (event: SubmitEvent): Promise<void> => {
    event.preventDefault();
    const lines = holds === 'records' ? headings.split('\n').map((line) => line.trim()) : [];
    const named = lines.filter((line) => line !== '');
    if (name.trim() === '' || (holds === 'records' && named.length === 0)) {
      setFailure(
        name.trim() === '' ? 'The sheet has no name yet.' : 'Records need one heading at least.',
      );
      return;
    }
    try {
      const body = { writeId: writeId.current, name: name.trim(), headings: named };
      const sheet = await request<SheetView>('POST', paths.sheets(workbookId), body);
      await mutate(paths.workbook(workbookId));
      await navigate(addresses.sheet(workbookId, sheet.id));
    } catch (error) {
      writeId.current = crypto.randomUUID();
      setFailure(sayError(error));
    }
  };

  return (
    <Shell
      trail={[
        { label: workbook?.name ?? 'Workbook', to: addresses.contents(workbookId) },
        { label: 'Add a sheet' },
      ]}
      bar={<PlaceBar place="Add a sheet" actions={[]} />}
    >
      <Box as="form" p={{ base: '4', md: '8' }} onSubmit={(event: SubmitEvent) => void add(event)}>
        <Stack gap="4" maxW="420px">
          <Field.Root>
            <Field.Label>Its name</Field.Label>
            <Input
              bg="leaf"
              borderColor="edge"
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          </Field.Root>
          <Choice
            label="It holds"
            value={holds}
            options={HOLDS}
            onChange={(value) => setHolds(value as Holds)}
          />
          {holds === 'records' && (
            <Field.Root>
              <Field.Label>Headings</Field.Label>
              <Field.HelperText mt="0">One a line; kinds are said later</Field.HelperText>
              <Textarea
                rows={4}
                bg="leaf"
                borderColor="edge"
                value={headings}
                onChange={(event) => setHeadings(event.target.value)}
              />
            </Field.Root>
          )}
          {failure !== '' && <Notice tone="stop">{failure}</Notice>}
          <HStack>
            <Button type="submit">Add it</Button>
          </HStack>
        </Stack>
      </Box>
    </Shell>
  );
}
