import { Box, Button, Flex, Heading, HStack, Stack, Text } from '@chakra-ui/react';
import type { BinItem, BinView, Landed, WorkbookView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { mayAs, type Role } from '@varn/contract/roles';
import { sayCountOf } from '@varn/core';
import { useState } from 'react';
import { useParams } from 'react-router';
import useSWR, { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { get, request, sayError } from '../api/client';
import { readAnew } from '../api/events';
import { newId } from '../api/newId';
import { useWorkbook } from '../api/resources';
import { Arriving } from '../frame/Arriving';
import { Shell } from '../frame/Shell';
import { PlaceBar } from '../keys/PlaceBar';
import { Notice } from '../ui/Notice';
import { sayMoment } from '../ui/sayMoment';
import { sayNotes } from '../ui/sayNotes';
import { Waiting } from '../ui/Waiting';

/** What can be put back, as it is called, and by whom. */
const KINDS: Readonly<Record<BinItem['is'], { heading: string; role: Role }>> = {
  sheet: { heading: 'Sheets', role: 'analyst' },
  form: { heading: 'Forms', role: 'analyst' },
  column: { heading: 'Columns', role: 'analyst' },
  record: { heading: 'Records', role: 'clerk' },
};

/** What was deleted in the workbook, to be looked at and put back to its old place. */
export function BinPage() {
  const { workbookId = '' } = useParams();
  const { data: workbook, error } = useWorkbook(workbookId);
  if (!workbook) return <Arriving trail={[{ label: 'Bin' }]} error={error} />;
  return <Bin workbook={workbook} />;
}

function Bin({ workbook }: { workbook: WorkbookView }) {
  const { mutate } = useSWRConfig();
  const path = paths.bin(workbook.id);
  const { data: bin, error } = useSWR<BinView, unknown>(path, {
    revalidateOnMount: true,
    revalidateIfStale: true,
  });
  const [said, setSaid] = useState('');
  const [failure, setFailure] = useState('');
  const [isAsked, setAsked] = useState(false);
  const act = async (work: () => Promise<string>, says: string): Promise<void> => {
    try {
      const besides = await work();
      setSaid(`${says}${besides}`);
      setFailure('');
      readAnew(mutate, paths.workbook(workbook.id), '/api/sheets/', '/api/forms/');
    } catch (reason) {
      setFailure(sayError(reason));
      setSaid('');
    }
  };
  const empty = (): Promise<void> => {
    setAsked(false);
    const body = { writeId: newId() };
    const work = async (): Promise<string> => {
      await request('POST', paths.emptyBin(workbook.id), body);
      return '';
    };
    return act(work, 'The bin is empty.');
  };
  const items = bin?.items ?? [];
  const canBeEmptied = items.some(({ is }) => is !== 'column');
  return (
    <Shell
      trail={[{ label: workbook.name, to: addresses.contents(workbook.id) }, { label: 'Bin' }]}
      bar={<PlaceBar place="Bin" actions={[]} />}
    >
      <Stack p={{ base: '4', md: '6' }} maxW="980px" gap="5">
        <Box role="status">{said !== '' && <Notice tone="settled">{said}</Notice>}</Box>
        {(failure !== '' || error !== undefined) && (
          <Notice tone="refuse">{failure || sayError(error)}</Notice>
        )}
        {!bin && error === undefined && <Waiting />}
        {bin && items.length === 0 && (
          <Text color="ink.soft">
            The bin is empty. Records, sheets, forms and columns that are deleted wait here and can
            be put back.
          </Text>
        )}
        {Object.entries(KINDS).map(([is, { heading, role }]) => {
          const these = items.filter((item) => item.is === is);
          if (these.length === 0) return null;
          return (
            <Box key={is} as="section" aria-label={heading}>
              <Heading as="h2" size="sm" mb="1">
                {heading}
              </Heading>
              {is === 'record' && bin && bin.records > these.length && (
                <Text color="ink.soft">
                  The newest {these.length} of {sayCountOf(bin.records, 'record')}.
                </Text>
              )}
              <Stack as="ul" listStyleType="none" gap="0">
                {these.map((item) => (
                  <Item
                    key={item.id}
                    item={item}
                    workbook={workbook}
                    onPutBack={
                      mayAs(workbook.role, role)
                        ? () =>
                            void act(
                              () => putBack(item, workbook.id),
                              `${item.says} is back in ${item.sheet}.`,
                            )
                        : undefined
                    }
                  />
                ))}
              </Stack>
            </Box>
          );
        })}
        {canBeEmptied && mayAs(workbook.role, 'owner') && (
          <Box>
            {isAsked ? (
              <HStack gap="3" wrap="wrap" role="alertdialog" aria-label="Empty the bin">
                <Notice tone="ask">
                  Delete all records, sheets and forms in the bin for good? They can’t be put back
                  afterwards. Deleted columns stay.
                </Notice>
                <Button size="sm" onClick={() => void empty()}>
                  Delete for good
                </Button>
                <Button size="sm" variant="outline" autoFocus onClick={() => setAsked(false)}>
                  Keep them
                </Button>
              </HStack>
            ) : (
              <Button size="sm" variant="outline" onClick={() => setAsked(true)}>
                Empty the bin
              </Button>
            )}
          </Box>
        )}
      </Stack>
    </Shell>
  );
}

interface ItemProps {
  readonly item: BinItem;
  readonly workbook: WorkbookView;
  readonly onPutBack: (() => void) | undefined;
}

function Item({ item, workbook, onPutBack }: ItemProps) {
  const { is, says, sheet, at, by, cells = [] } = item;
  const when =
    at === undefined ? '' : `deleted ${sayMoment(at, workbook.locale, workbook.timeZone)}`;
  const told = [is === 'sheet' ? '' : `from ${sheet}`, when, by === undefined ? '' : `by ${by}`];
  return (
    <Flex as="li" gap="3" py="2" borderTopWidth="1px" wrap="wrap" align="baseline">
      <Box minW="0" flex="1">
        <Text as="span" fontWeight="600" fontFamily={is === 'record' ? 'mono' : undefined}>
          {says || 'A record'}
        </Text>{' '}
        <Text as="span" color="ink.soft">
          {told.filter((each) => each !== '').join(' ')}
        </Text>
        {cells.length > 0 && (
          <details>
            <summary>Look at it</summary>
            <Text fontSize="13px" mt="1">
              {cells.map(({ heading, shown }) => `${heading}: ${shown}`).join(' · ')}
            </Text>
          </details>
        )}
      </Box>
      {onPutBack && (
        <Button
          size="xs"
          variant="outline"
          minH="26px"
          aria-label={`Put back ${says}`}
          onClick={onPutBack}
        >
          Put back
        </Button>
      )}
    </Flex>
  );
}

/** Puts something back to its old place. @returns what is to be said besides */
async function putBack(
  { is, id, sheetId, revision }: BinItem,
  workbookId: string,
): Promise<string> {
  const writeId = newId();
  switch (is) {
    case 'record':
      return sayNotes(
        await request<Landed>('POST', paths.putBackRecord(sheetId, id), { writeId, revision }),
      );
    case 'form':
      await request('POST', paths.putBackForm(workbookId, id), { writeId });
      return '';
    case 'sheet':
      await request('POST', paths.putBackSheet(workbookId, id), { revision });
      return '';
    case 'column': {
      const sheet = await get<{ revision: number }>(paths.sheet(sheetId));
      await request('POST', paths.putBackColumn(sheetId, id), { revision: sheet.revision });
      return '';
    }
  }
}
