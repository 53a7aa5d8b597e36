import { Box, Button, Flex, Text, useMediaQuery } from '@chakra-ui/react';
import type { TodayView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { sayCount } from '@varn/core';
import useSWR from 'swr';
import { later } from '../ui/later';

const hint = later(async () => (await import('../ui/FirstHint')).FirstHint);

/** From this width on a hint has room in the line; a phone, which has no keys, does not load it. */
const WIDE = '(min-width: 64rem)';

interface SessionLineProps {
  readonly sheetId: string;
  readonly onOpen: (recordId: string) => void;
}

/** What was entered today, by oneself and by all, and one's last records, each a jump. */
export function SessionLine({ sheetId, onOpen }: SessionLineProps) {
  const { data: today } = useSWR<TodayView, unknown>(paths.today(sheetId), {
    // The day may have changed since.
    revalidateIfStale: true,
  });
  const [isWide] = useMediaQuery([WIDE], { ssr: false });
  return (
    <Flex
      mb="2"
      maxW="1040px"
      mx="auto"
      minH="28px"
      align="center"
      columnGap="2"
      wrap="wrap"
      color="ink.soft"
      fontSize="13px"
      aria-label="Today"
      role="group"
    >
      {today && (
        <>
          <Text>
            Today: {sayCount(today.mine)} by you, {sayCount(today.all)} in all
          </Text>
          {today.last.length > 0 && <Text hideBelow="md">· Your last:</Text>}
          {today.last.map(({ id, name, row }) => (
            <Button
              key={id}
              size="2xs"
              variant="ghost"
              minH="24px"
              px="1"
              color="ink.soft"
              textDecoration="underline"
              fontFamily="mono"
              hideBelow="md"
              onClick={() => onOpen(id)}
            >
              {(name || `Row ${sayCount(row)}`).slice(0, 30)}
            </Button>
          ))}
        </>
      )}
      {isWide && (
        <Box ms="auto">
          <hint.Part id="deskBar" inLine>
            Press Escape to go to the bar, then a letter on it: F finds a record.
          </hint.Part>
        </Box>
      )}
    </Flex>
  );
}
