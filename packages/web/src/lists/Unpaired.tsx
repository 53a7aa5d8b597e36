import { Box, Button, Heading, HStack, Stack, Text } from '@chakra-ui/react';
import type { SheetView, UnfedFieldView, UnpairedView, WorkbookView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { mayAs } from '@varn/contract/roles';
import { useState } from 'react';
import { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { get, request, sayError } from '../api/client';
import { readAnew } from '../api/events';
import { fedSettings } from '../sheet/lists/sources';
import { Notice } from '../ui/Notice';
import { TextLink } from '../ui/TextLink';

interface UnpairedProps {
  readonly unpaired: UnpairedView;
  readonly workbook: WorkbookView;
}

/** What of a sheet of choices has no partner yet; a likely pair is made with one click. */
export function Unpaired({ unpaired, workbook }: UnpairedProps) {
  const { mutate } = useSWRConfig();
  const [failure, setFailure] = useState('');
  const { sheetId, sheet, headings, fields } = unpaired;
  const feed = async ({ sheetId: home, columnId, source }: UnfedFieldView): Promise<void> => {
    try {
      const { columns, revision } = await get<SheetView>(paths.sheet(home));
      const held = columns.find(({ id }) => id === columnId);
      const settings = fedSettings(held?.settings ?? {}, { source: source ?? '' });
      await request('PATCH', paths.column(home, columnId), { settings, revision });
      setFailure('');
      readAnew(mutate, paths.lists(workbook.id), paths.workbook(workbook.id), '/api/sheets/');
    } catch (error) {
      setFailure(sayError(error));
    }
  };
  return (
    <Box as="section" aria-label={`Not matched in ${sheet}`}>
      <Heading as="h2" size="sm" mb="1">
        Not matched
      </Heading>
      <Text color="ink.soft">
        <TextLink to={addresses.sheet(workbook.id, sheetId)}>{sheet}</TextLink> feeds several fields
        by its headings. These have none yet:
      </Text>
      <Stack as="ul" listStyleType="disc" ps="6" gap="1" mt="1">
        {headings.length > 0 && (
          <li>
            {headings.length === 1 ? 'Heading' : 'Headings'}: {headings.join(', ')}
          </li>
        )}
        {fields.map((field) => (
          <li key={field.columnId}>
            <HStack display="inline-flex" gap="3" wrap="wrap">
              <Text>
                Field: {field.heading} of {field.sheet}
              </Text>
              {field.likely !== undefined && mayAs(workbook.role, 'analyst') && (
                <Button size="2xs" variant="outline" onClick={() => void feed(field)}>
                  Feed {field.heading} from {field.likely}
                </Button>
              )}
            </HStack>
          </li>
        ))}
      </Stack>
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
    </Box>
  );
}
