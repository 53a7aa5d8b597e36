import { Box, Button, Field, Heading, HStack, Input, Stack, Textarea } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useRef, useState, type SubmitEvent } from 'react';
import { useNavigate } from 'react-router';
import { useSWRConfig } from 'swr';
import { request, sayError } from '../api/client';
import { addresses } from '../addresses';
import { Choice } from '../ui/controls';
import { Notice } from '../ui/Notice';

type Holds = 'records' | 'cells';

const HOLDS: readonly (readonly [Holds, string])[] = [
  ['records', 'Records, under headings'],
  ['cells', 'Cells of any sort: choices, notes, summaries'],
];

/** Adds a sheet to a workbook: with a record block, or of free cells. */
export function AddSheet({ workbookId }: { workbookId: string }) {
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
    <Box as="section" borderTopWidth="1px" pt="5">
      <Heading as="h2" size="md" mb="3">
        Add a sheet
      </Heading>
      <form onSubmit={(event) => void add(event)}>
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
      </form>
    </Box>
  );
}
