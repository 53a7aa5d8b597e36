import { Box, Heading, Link as ChakraLink, Stack, Text } from '@chakra-ui/react';
import { mayAs } from '@varn/contract/roles';
import { sayCountOf } from '@varn/core';
import { FileDown, Plus } from 'lucide-react';
import { Link, useNavigate, useParams } from 'react-router';
import { sayError } from '../api/client';
import { useWorkbook } from '../api/resources';
import { addresses } from '../addresses';
import { PlaceBar } from '../keys/PlaceBar';
import { Notice } from '../ui/Notice';
import { Shell } from '../ui/Shell';
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
        {error ? <Notice tone="stop">{sayError(error)}</Notice> : null}
        {!workbook && !error && <Waiting />}
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
                <ChakraLink asChild fontWeight="600">
                  <Link to={addresses.desk(workbook.id, form.id)}>{form.name}</Link>
                </ChakraLink>
              </Box>
            ))}
          </Box>
        ))}
      </Stack>
    </Shell>
  );
}
