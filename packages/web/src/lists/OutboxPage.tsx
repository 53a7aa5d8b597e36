import { Box, Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { NoticeView, OutboxView, WorkbookView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import useSWR from 'swr';
import { addresses } from '../addresses';
import { request, sayError } from '../api/client';
import { useWorkbook } from '../api/resources';
import { Arriving } from '../frame/Arriving';
import { Shell } from '../frame/Shell';
import { PlaceBar } from '../keys/PlaceBar';
import { Notice } from '../ui/Notice';
import { sayMoment } from '../ui/sayMoment';
import { Waiting } from '../ui/Waiting';

/** What would be mailed to one, kept here to be read. */
export function OutboxPage() {
  const { workbookId = '' } = useParams();
  const { data: workbook, error } = useWorkbook(workbookId);
  if (!workbook) return <Arriving trail={[{ label: 'Outbox' }]} error={error} />;
  return <Outbox workbook={workbook} />;
}

function Outbox({ workbook }: { workbook: WorkbookView }) {
  const { data, error, mutate } = useSWR<OutboxView, unknown>(paths.outbox(workbook.id), {
    revalidateOnMount: true,
    revalidateIfStale: true,
  });
  const [failure, setFailure] = useState('');
  const unread = (data?.notices ?? []).filter(({ isRead }) => !isRead).map(({ id }) => id);
  const read = async (ids: readonly string[]): Promise<void> => {
    try {
      await request('POST', paths.readNotices(workbook.id), { ids });
      await mutate();
      setFailure('');
    } catch (reason) {
      setFailure(sayError(reason));
    }
  };
  return (
    <Shell
      trail={[{ label: workbook.name, to: addresses.contents(workbook.id) }, { label: 'Outbox' }]}
      bar={<PlaceBar place="Outbox" actions={[]} />}
    >
      <Stack p={{ base: '4', md: '6' }} maxW="820px" gap="4">
        <Text color="ink.soft">No mail server is set up, so mail to you is kept here.</Text>
        {(failure !== '' || error !== undefined) && (
          <Notice tone="refuse">{failure || sayError(error)}</Notice>
        )}
        {!data && error === undefined && <Waiting />}
        {data?.notices.length === 0 && <Text>There is no mail to you yet.</Text>}
        {unread.length > 1 && (
          <Button size="xs" variant="outline" alignSelf="start" onClick={() => void read(unread)}>
            Mark all as read
          </Button>
        )}
        <Stack as="ul" listStyleType="none" gap="0">
          {data?.notices.map((notice) => (
            <Message
              key={notice.id}
              {...{ notice, workbook }}
              onRead={() => void read([notice.id])}
            />
          ))}
        </Stack>
      </Stack>
    </Shell>
  );
}

interface MessageProps {
  readonly notice: NoticeView;
  readonly workbook: WorkbookView;
  readonly onRead: () => void;
}

function Message({ notice, workbook, onRead }: MessageProps) {
  const { at, to, subject, text, link, isRead } = notice;
  return (
    <Box
      as="li"
      borderTopWidth="1px"
      py="3"
      borderStartWidth="3px"
      borderStartColor={isRead ? 'transparent' : 'brass'}
      ps="3"
    >
      <Text fontWeight={isRead ? undefined : '600'}>{subject}</Text>
      <Text color="ink.soft" fontSize="13px">
        {sayMoment(at, workbook.locale, workbook.timeZone)}, to {to}
        {isRead ? '' : ', unread'}
      </Text>
      <Text mt="1">{text}</Text>
      <HStack mt="1" gap="4">
        {link !== undefined && (
          <Link to={link} onClick={onRead}>
            Look at it
          </Link>
        )}
        {!isRead && (
          <Button size="xs" variant="outline" onClick={onRead}>
            Mark as read
          </Button>
        )}
      </HStack>
    </Box>
  );
}
