import {
  Box,
  Button,
  Heading,
  HStack,
  Link as ChakraLink,
  Stack,
  Table,
  Text,
  VisuallyHidden,
} from '@chakra-ui/react';
import type {
  FormEntry,
  OverviewView,
  ProblemsView,
  SheetEntry,
  WorkbookView,
} from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { mayAs } from '@varn/contract/roles';
import { sayCount, sayCountOf } from '@varn/core';
import { FileDown, PencilRuler, Plus, SquarePen, Table2 } from 'lucide-react';
import { Fragment, useState, type ReactNode } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import useSWR, { useSWRConfig } from 'swr';
import { newId } from '../api/newId';
import { get, request, sayError } from '../api/client';
import { useWorkbook } from '../api/resources';
import { addresses } from '../addresses';
import { PlaceBar, type BarAction } from '../keys/PlaceBar';
import { Notice } from '../ui/Notice';
import { sayMoment } from '../ui/sayMoment';
import { Shell } from '../frame/Shell';
import { Waiting } from '../ui/Waiting';

/** What a workbook holds: its sheets, the forms that write into each, and what came in lately. */
export function ContentsPage() {
  const { workbookId } = useParams();
  const { data: workbook, error } = useWorkbook(workbookId);
  const actions = useContentsActions(workbook);
  const [createForm] = actions;
  return (
    <Shell
      trail={[{ label: workbook?.name ?? 'Workbook' }]}
      bar={<PlaceBar place="Workbook" actions={actions} />}
    >
      <Stack p={{ base: '4', md: '5', lg: '8' }} maxW="1040px" gap="5">
        {error ? <Notice tone="refuse">{sayError(error)}</Notice> : null}
        {!workbook && !error && <Waiting />}
        {workbook?.sheets.length === 0 && (
          <Stack gap="3" align="start">
            <Text>
              {createForm
                ? 'This workbook is empty. Create a form, add a sheet or bring in a file.'
                : 'This workbook is empty. Its analyst adds sheets and forms.'}
            </Text>
            {createForm && <Button onClick={createForm.run}>Create a form</Button>}
          </Stack>
        )}
        {workbook && workbook.sheets.length > 0 && <SheetTable workbook={workbook} />}
        {workbook && workbook.removedForms.length > 0 && <DeletedForms workbook={workbook} />}
      </Stack>
    </Shell>
  );
}

function useContentsActions(workbook: WorkbookView | undefined): BarAction[] {
  const navigate = useNavigate();
  if (!workbook || !mayAs(workbook.role, 'analyst')) return [];
  return [
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
  ];
}

/** Each sheet and form on a line, with what matters at a look. */
function SheetTable({ workbook }: { readonly workbook: WorkbookView }) {
  const path = paths.overview(workbook.id);
  const { data } = useSWR(path, () => get<OverviewView>(path));
  const told = new Map(data?.sheets.map((each) => [each.sheetId, each]));
  const problemsPath = paths.problems(workbook.id);
  const { data: broken } = useSWR(problemsPath, () => get<ProblemsView>(problemsPath));
  const problems = new Map(broken?.sheets.map(({ sheetId, values }) => [sheetId, values]));
  return (
    <Box overflowX="auto" bg="leaf" borderWidth="1px" borderRadius="8px">
      <Table.Root size="sm" aria-label="Sheets and forms">
        <Table.Header>
          <Table.Row bg="leaf">
            <Table.ColumnHeader>Sheet or form</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Records</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end">Today</Table.ColumnHeader>
            <Table.ColumnHeader textAlign="end" title="Values that break rules of their column">
              Problems
            </Table.ColumnHeader>
            <Table.ColumnHeader hideBelow="lg">Last record</Table.ColumnHeader>
            <Table.ColumnHeader hideBelow="lg">State</Table.ColumnHeader>
            <Table.ColumnHeader hideBelow="md">
              <VisuallyHidden>Actions</VisuallyHidden>
            </Table.ColumnHeader>
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {workbook.sheets.map((sheet) => {
            const { today = 0, last } = told.get(sheet.id) ?? {};
            return (
              <Fragment key={sheet.id}>
                <Table.Row bg="leaf">
                  <Table.Cell py="1">
                    <Place to={addresses.sheet(workbook.id, sheet.id)} icon={<Table2 size={15} />}>
                      {sheet.name}
                    </Place>
                  </Table.Cell>
                  <Table.Cell py="1" textAlign="end" fontFamily="mono">
                    {sheet.hasRecords ? sayCount(sheet.records) : ''}
                  </Table.Cell>
                  <Table.Cell py="1" textAlign="end" fontFamily="mono">
                    {today > 0 ? `+${sayCount(today)}` : ''}
                  </Table.Cell>
                  <Table.Cell py="1" textAlign="end" fontFamily="mono" color="amber">
                    {problems.has(sheet.id) ? sayCount(problems.get(sheet.id) ?? 0) : ''}
                  </Table.Cell>
                  <Table.Cell py="1" color="ink.soft" whiteSpace="nowrap" hideBelow="lg">
                    {last
                      ? `${sayMoment(last.at, workbook.locale, workbook.timeZone)}, ${last.by}`
                      : ''}
                  </Table.Cell>
                  <Table.Cell py="1" color="ink.soft" whiteSpace="nowrap" hideBelow="lg">
                    {sheet.hasRecords ? '' : 'Cells, no records'}
                  </Table.Cell>
                  <Table.Cell py="1" hideBelow="md" />
                </Table.Row>
                {sheet.forms.map((form) => (
                  <FormRow key={form.id} {...{ workbook, sheet, form }} />
                ))}
              </Fragment>
            );
          })}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}

function FormRow({
  workbook,
  sheet,
  form,
}: {
  readonly workbook: WorkbookView;
  readonly sheet: SheetEntry;
  readonly form: FormEntry;
}) {
  const state =
    form.version === 0 ? 'Not in use yet' : form.hasDraft ? 'Changes not in use yet' : 'In use';
  return (
    <Table.Row bg="leaf">
      <Table.Cell py="1" ps="8">
        <Place to={addresses.desk(workbook.id, form.id)} icon={<SquarePen size={15} />}>
          {form.name}
        </Place>
      </Table.Cell>
      <Table.Cell py="1" colSpan={3} />
      <Table.Cell py="1" hideBelow="lg" />
      <Table.Cell
        py="1"
        color={state === 'In use' ? 'ink.soft' : 'amber'}
        whiteSpace="nowrap"
        hideBelow="lg"
      >
        {state}
      </Table.Cell>
      <Table.Cell py="1" hideBelow="md">
        {mayAs(workbook.role, 'analyst') && (
          <HStack gap="4">
            <ChakraLink asChild color="ink.soft" minH="6">
              <Link
                to={addresses.compose(workbook.id, form.id)}
                aria-label={`Compose ${form.name}`}
              >
                Compose
              </Link>
            </ChakraLink>
            <ChakraLink asChild color="ink.soft" minH="6">
              <Link
                to={addresses.layOut(workbook.id, { sheet: sheet.id, like: form.id })}
                aria-label={`Duplicate ${form.name}`}
              >
                Duplicate
              </Link>
            </ChakraLink>
          </HStack>
        )}
      </Table.Cell>
    </Table.Row>
  );
}

function Place({ to, icon, children }: { to: string; icon: ReactNode; children: ReactNode }) {
  return (
    <HStack gap="2" whiteSpace={{ md: 'nowrap' }}>
      <Box as="span" color="ink.soft" aria-hidden>
        {icon}
      </Box>
      <ChakraLink asChild fontWeight="600" minH="6">
        <Link to={to}>{children}</Link>
      </ChakraLink>
    </HStack>
  );
}

/** The forms that wait in the bin, each to be restored. */
function DeletedForms({ workbook }: { readonly workbook: WorkbookView }) {
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
        {sayCountOf(workbook.removedForms.length, 'deleted form')}
      </Heading>
      <Stack as="ul" gap="1" mt="1" listStyleType="none">
        {workbook.removedForms.map(({ id, name }) => (
          <HStack as="li" key={id} gap="3">
            <Text>{name}</Text>
            <Button
              size="xs"
              variant="outline"
              aria-label={`Restore ${name}`}
              onClick={() => void putBack(id)}
            >
              Restore
            </Button>
          </HStack>
        ))}
      </Stack>
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
    </Box>
  );
}
