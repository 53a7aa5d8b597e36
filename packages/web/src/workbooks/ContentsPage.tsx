import { Box, Button, Heading, HStack, Link as ChakraLink, Stack, Text } from '@chakra-ui/react';
import type { FormEntry, WorkbookView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { mayAs } from '@varn/contract/roles';
import { sayCountOf } from '@varn/core';
import { FileDown, PencilRuler, Plus } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { useSWRConfig } from 'swr';
import { newId } from '../api/newId';
import { request, sayError } from '../api/client';
import { useWorkbook } from '../api/resources';
import { addresses } from '../addresses';
import { PlaceBar } from '../keys/PlaceBar';
import { Notice } from '../ui/Notice';
import { Shell } from '../frame/Shell';
import { Waiting } from '../ui/Waiting';

/** What a workbook holds: its sheets, and the forms that write into each. */
export function ContentsPage() {
  const { workbookId } = useParams();
  const { data: workbook, error } = useWorkbook(workbookId);
  const navigate = useNavigate();
  return (
    <Shell
      trail={[{ label: workbook?.name ?? 'Workbook' }]}
      bar={
        <PlaceBar
          place="Workbook"
          actions={
            workbook && mayAs(workbook.role, 'analyst')
              ? [
                  {
                    id: 'layOut',
                    label: 'Create a form',
                    key: 'm',
                    run: () => void navigate(addresses.layOut(workbook.id)),
                    icon: <PencilRuler size={15} aria-hidden />,
                    main: workbook.sheets.length === 0,
                  },
                  {
                    id: 'addSheet',
                    label: 'Add a sheet',
                    key: 'a',
                    run: () => void navigate(addresses.addSheet(workbook.id)),
                    icon: <Plus size={15} aria-hidden />,
                  },
                  {
                    id: 'bringIn',
                    label: 'Bring in a file',
                    key: 'b',
                    run: () => void navigate(addresses.bringIn(workbook.id)),
                    icon: <FileDown size={15} aria-hidden />,
                  },
                ]
              : []
          }
        />
      }
    >
      <Stack p={{ base: '4', md: '8' }} maxW="860px" gap="5">
        {error ? <Notice tone="refuse">{sayError(error)}</Notice> : null}
        {!workbook && !error && <Waiting />}
        {workbook?.sheets.length === 0 && (
          <Text>This workbook is empty. Create a form, add a sheet, or bring in a file.</Text>
        )}
        {workbook?.sheets.map((sheet) => (
          <Box key={sheet.id} bg="leaf" borderWidth="1px" borderRadius="8px" p="5">
            <Heading as="h2" size="md">
              <ChakraLink asChild>
                <Link to={addresses.sheet(workbook.id, sheet.id)}>{sheet.name}</Link>
              </ChakraLink>
            </Heading>
            <Text color="ink.soft">
              {sheet.hasRecords ? sayCountOf(sheet.records, 'record') : 'Cells, no records'}
            </Text>
            {sheet.forms.map((form) => (
              <Box key={form.id} mt="2" ps="4" borderStartWidth="3px" borderColor="brass">
                <ChakraLink asChild fontWeight="600" py="1">
                  <Link to={addresses.desk(workbook.id, form.id)}>{form.name}</Link>
                </ChakraLink>
                {mayAs(workbook.role, 'analyst') && (
                  <HStack gap="3" fontSize="12.5px">
                    <ChakraLink asChild color="ink.soft" py="1" minH="6">
                      <Link
                        to={addresses.compose(workbook.id, form.id)}
                        aria-label={`Compose ${form.name}`}
                      >
                        {form.version === 0 ? 'Compose, not in use yet' : 'Compose'}
                      </Link>
                    </ChakraLink>
                    <ChakraLink asChild color="ink.soft" py="1" minH="6">
                      <Link
                        to={addresses.layOut(workbook.id, { sheet: sheet.id, like: form.id })}
                        aria-label={`Duplicate ${form.name}`}
                      >
                        Duplicate
                      </Link>
                    </ChakraLink>
                  </HStack>
                )}
              </Box>
            ))}
          </Box>
        ))}
        {workbook && workbook.removedForms.length > 0 && <RemovedForms workbook={workbook} />}
      </Stack>
    </Shell>
  );
}

/** The forms that wait in the bin, each to be put back. */
function RemovedForms({ workbook }: { readonly workbook: WorkbookView }) {
  const { mutate } = useSWRConfig();
  const [failure, setFailure] = useState('');
  const putBack = async (formId: string): Promise<void> => {
    try {
      const body = { writeId: newId() };
      await request<FormEntry>('POST', paths.putBackForm(workbook.id, formId), body);
      setFailure('');
    } catch (error) {
      setFailure(sayError(error));
    }
    await mutate(paths.workbook(workbook.id));
  };
  return (
    <Box as="section" aria-label="Deleted forms">
      <Heading as="h2" size="sm" color="ink.soft">
        Deleted forms
      </Heading>
      <Stack as="ul" gap="1" mt="1" listStyleType="none">
        {workbook.removedForms.map(({ id, name }) => (
          <HStack as="li" key={id} gap="3">
            <Text>{name}</Text>
            <Button
              size="xs"
              variant="outline"
              aria-label={`Put ${name} back`}
              onClick={() => void putBack(id)}
            >
              Put back
            </Button>
          </HStack>
        ))}
      </Stack>
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
    </Box>
  );
}
