import { Box, Button, Flex, Heading, Stack, Text } from '@chakra-ui/react';
import type { ListEntry, ListPlaceView, WorkbookView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useParams, Link } from 'react-router';
import useSWR from 'swr';
import { addresses } from '../addresses';
import { sayError } from '../api/client';
import { useWorkbook } from '../api/resources';
import { Arriving } from '../frame/Arriving';
import { Shell } from '../frame/Shell';
import { PlaceBar } from '../keys/PlaceBar';
import { Notice } from '../ui/Notice';
import { sayMoment } from '../ui/sayMoment';
import { Waiting } from '../ui/Waiting';
import { sayCounts, Troubles, Use } from './parts';
import { Unpaired } from './Unpaired';

/** Every list of the workbook: where it comes from, what it feeds, and whether all is well. */
export function ListsPage() {
  const { workbookId = '' } = useParams();
  const { data: workbook, error } = useWorkbook(workbookId);
  if (!workbook) return <Arriving trail={[{ label: 'Lists' }]} error={error} />;
  return <Lists workbook={workbook} />;
}

function Lists({ workbook }: { workbook: WorkbookView }) {
  const { data, error } = useSWR<ListPlaceView, unknown>(paths.lists(workbook.id), {
    revalidateOnMount: true,
    revalidateIfStale: true,
  });
  const all = data?.lists ?? [];
  const isIll = ({ troubles }: ListEntry): boolean => troubles.length > 0;
  const first = workbook.sheets.find(({ hasRecords }) => hasRecords);
  const fed = all.filter(({ source }) => source !== undefined);
  const typed = all.filter(({ source }) => source === undefined);
  const groups: readonly (readonly [string, readonly ListEntry[]])[] = [
    ['To look at', fed.filter(isIll)],
    ['Fed by the workbook', fed.filter((each) => !isIll(each))],
    ['Typed into a column', typed],
  ];
  return (
    <Shell
      trail={[{ label: workbook.name, to: addresses.contents(workbook.id) }, { label: 'Lists' }]}
      bar={<PlaceBar place="Lists" actions={[]} />}
    >
      <Stack p={{ base: '4', md: '6' }} maxW="1040px" gap="6">
        {error !== undefined && <Notice tone="refuse">{sayError(error)}</Notice>}
        {!data && error === undefined && <Waiting />}
        {data && all.length === 0 && (
          <Stack gap="3" align="start">
            <Text color="ink.soft">
              No column has choices yet. Open a sheet, and in the details of a column choose the
              kind One choice or Several choices.
            </Text>
            {first && (
              <Button asChild>
                <Link to={addresses.sheet(workbook.id, first.id)}>Open {first.name}</Link>
              </Button>
            )}
          </Stack>
        )}
        {groups.map(([title, entries]) =>
          entries.length === 0 ? null : (
            <Box key={title} as="section" aria-label={title}>
              <Heading as="h2" size="sm" mb="1">
                {title}
              </Heading>
              <Stack as="ul" listStyleType="none" gap="0">
                {entries.map((entry) => (
                  <Entry key={entry.id} entry={entry} workbook={workbook} />
                ))}
              </Stack>
            </Box>
          ),
        )}
        {data?.unpaired.map((each) => (
          <Unpaired key={each.sheetId} unpaired={each} workbook={workbook} />
        ))}
      </Stack>
    </Shell>
  );
}

function Entry({ entry, workbook }: { entry: ListEntry; workbook: WorkbookView }) {
  const { source, uses, counts, troubles, first, changedAt } = entry;
  const [use] = uses;
  if (!use) return null;
  const name = source ?? `${use.heading} in ${use.sheet}`;
  return (
    <Flex
      as="li"
      borderTopWidth="1px"
      py="3"
      gap={{ base: '1', md: '6' }}
      direction={{ base: 'column', md: 'row' }}
    >
      <Box flex="1" minW="0">
        <Text
          fontWeight="600"
          fontFamily={source === undefined ? undefined : 'mono'}
          overflowWrap="anywhere"
        >
          <Link to={addresses.list(workbook.id, use.sheetId, use.columnId)}>{name}</Link>
        </Text>
        <Text color="ink.soft" fontSize="13px">
          {sayCounts(counts)}
          {changedAt !== undefined &&
            `, last changed ${sayMoment(changedAt, workbook.locale, workbook.timeZone)}`}
        </Text>
        {first.length > 0 && (
          <Text fontSize="13px" overflow="hidden" textOverflow="ellipsis" whiteSpace="nowrap">
            {first.join(' · ')}
          </Text>
        )}
        {troubles.length > 0 && (
          <Box mt="1" fontSize="13px">
            <Troubles troubles={troubles} />
          </Box>
        )}
      </Box>
      <Stack as="ul" listStyleType="none" gap="0" flex={{ md: '0 0 40%' }} fontSize="13px">
        {uses.map((each) => (
          <li key={each.columnId}>
            <Use use={each} workbookId={workbook.id} />
          </li>
        ))}
      </Stack>
    </Flex>
  );
}
