import { Box, Button, HStack, Text } from '@chakra-ui/react';
import type { UnderwayView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useEffect, useRef, useState } from 'react';
import { get, request, sayError } from '../api/client';

/** What is quick tells nothing of itself. */
const FIRST_MS = 600;
const AGAIN_MS = 400;

interface UnderwayNoteProps {
  readonly workbookId: string;
  /** The write that was sent, and is not answered yet. */
  readonly writeId: string;
}

/** How far a write of many records has come, and the way out of it; nothing while it is quick. */
export function UnderwayNote({ workbookId, writeId }: UnderwayNoteProps) {
  const path = paths.underway(workbookId, writeId);
  const [share, setShare] = useState<number | null>(null);
  const [said, setSaid] = useState('');
  useEffect(() => {
    let next: ReturnType<typeof setTimeout>;
    let isLate = false;
    const look = async (): Promise<void> => {
      // What can't be asked now is asked again: the write itself tells how it ended.
      const view = await get<UnderwayView>(path).catch(() => null);
      if (isLate) return;
      if (view) setShare((before) => view.share ?? before);
      next = setTimeout(() => void look(), AGAIN_MS);
    };
    next = setTimeout(() => void look(), FIRST_MS);
    return () => {
      isLate = true;
      clearTimeout(next);
    };
  }, [path]);
  const stop = useRef<HTMLButtonElement>(null);
  const isShown = share !== null;
  useEffect(() => {
    // The button that sent it can’t be pressed now: keys go to what can.
    const at = document.activeElement;
    if (isShown && (at === document.body || at?.matches(':disabled'))) stop.current?.focus();
  }, [isShown]);
  if (!isShown) return null;
  const percent = Math.round(share * 100);
  const cancel = async (): Promise<void> => {
    setSaid('Stopping…');
    await request('DELETE', path).catch((error: unknown) => setSaid(sayError(error)));
  };
  return (
    <HStack gap="3" wrap="wrap" my="2">
      <Box
        role="progressbar"
        aria-label="Records written"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={percent}
        w="200px"
        h="8px"
        borderWidth="1px"
        borderColor="edge"
        borderRadius="4px"
        overflow="hidden"
      >
        <Box h="full" bg="brass" w={`${percent}%`} />
      </Box>
      <Text fontFamily="mono">{percent} %</Text>
      <Button ref={stop} size="xs" variant="outline" minH="28px" onClick={() => void cancel()}>
        Stop and change nothing
      </Button>
      <Text role="status" color="ink.soft">
        {said}
      </Text>
    </HStack>
  );
}
