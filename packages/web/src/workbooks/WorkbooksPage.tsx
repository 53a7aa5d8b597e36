import { Box, Button, Heading, Link as ChakraLink, Stack, Text } from '@chakra-ui/react';
import { sayCountOf } from '@varn/core';
import { FileDown, Plus } from 'lucide-react';
import { Link, useNavigate } from 'react-router';
import { sayError } from '../api/client';
import { useWorkbooks } from '../api/resources';
import { addresses } from '../addresses';
import { useBringInTable, usePastedTable } from '../sheet/pastedTable';
import { PlaceBar } from '../keys/PlaceBar';
import { Notice } from '../ui/Notice';
import { sayOwnMoment } from '../ui/sayMoment';
import { Shell } from '../frame/Shell';
import { Waiting } from '../ui/Waiting';

/** The workbooks one has a part in. */
export function WorkbooksPage() {
  const { data: workbooks, error } = useWorkbooks();
  const navigate = useNavigate();
  const bringIn = (): void => void navigate(addresses.bringIn());
  usePastedTable(useBringInTable());
  return (
    <Shell
      trail={[{ label: 'Workbooks' }]}
      bar={
        <PlaceBar
          place="Workbooks"
          actions={[
            {
              id: 'bringIn',
              label: 'Bring in a file',
              key: 'b',
              run: bringIn,
              icon: <FileDown size={15} aria-hidden />,
              main: true,
            },
            {
              id: 'start',
              label: 'Start a blank workbook',
              key: 'a',
              run: () => void navigate(addresses.start),
              icon: <Plus size={15} aria-hidden />,
            },
          ]}
        />
      }
    >
      <Stack p={{ base: '4', md: '8' }} maxW="860px" gap="0">
        {error ? <Notice tone="refuse">{sayError(error)}</Notice> : null}
        {!workbooks && !error && <Waiting />}
        {workbooks?.length === 0 && (
          <Stack gap="3" align="start">
            <Heading as="h2" size="lg">
              No workbooks yet
            </Heading>
            <Text>
              Bring in a CSV file, or paste a copied table: it becomes a workbook, and one click
              makes a form of it.
            </Text>
            <Button onClick={bringIn}>Bring in a file</Button>
          </Stack>
        )}
        {workbooks?.map(({ id, name, role, sheets, forms, records, last }) => (
          <Box
            key={id}
            bg="leaf"
            borderWidth="1px"
            borderRadius="8px"
            p="5"
            mb="3"
            position="relative"
            _hover={{ borderColor: 'brass' }}
          >
            <ChakraLink
              asChild
              fontSize="lg"
              fontWeight="600"
              css={{ '&::after': { content: '""', position: 'absolute', inset: 0 } }}
            >
              <Link to={addresses.contents(id)}>{name}</Link>
            </ChakraLink>
            <Text color="ink.soft">
              {sayCountOf(sheets, 'sheet')}, {sayCountOf(forms, 'form')},{' '}
              {sayCountOf(records, 'record')} · your role: {role}
            </Text>
            {last && (
              <Text color="ink.soft" fontSize="13px">
                Last written {sayOwnMoment(last.at)} by {last.by}
              </Text>
            )}
          </Box>
        ))}
      </Stack>
    </Shell>
  );
}
