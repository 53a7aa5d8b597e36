import { Box, Button, HStack, IconButton, Text } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import { ArrowLeft, ArrowRight } from 'lucide-react';
import { Tick } from '../ui/controls';

interface MatchColumnsProps {
  readonly sheet: SheetView;
  /** Ids in the order they stand; `null` for all as in the sheet. */
  readonly shown: readonly string[] | null;
  readonly onShow: (shown: readonly string[] | null) => void;
  readonly onClose: () => void;
}

/** Chooses which columns the matches show, and in which order. */
export function MatchColumns({ sheet, shown, onShow, onClose }: MatchColumnsProps) {
  const all = sheet.columns.map(({ id }) => id);
  const ids = shown ?? all;
  const rest = all.filter((id) => !ids.includes(id));
  const headingOf = new Map(sheet.columns.map(({ id, heading }) => [id, heading]));
  const tick = (id: string, isShown: boolean): void =>
    onShow(isShown ? [...ids, id] : ids.filter((each) => each !== id));
  const move = (at: number, by: number): void => {
    const next = [...ids];
    const [id = ''] = next.splice(at, 1);
    next.splice(at + by, 0, id);
    onShow(next);
  };
  return (
    <Box
      role="group"
      aria-label="Columns of the matches"
      px={{ base: '3', md: '5' }}
      pb="2"
      maxH="30dvh"
      overflow="auto"
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        event.preventDefault();
        onClose();
      }}
    >
      <HStack wrap="wrap" gap="2" align="center">
        {[...ids, ...rest].map((id, at) => {
          const heading = headingOf.get(id);
          if (heading === undefined) return null;
          const isShown = at < ids.length;
          return (
            <HStack key={id} gap="0" borderWidth="1px" borderRadius="4px" px="1.5" minH="30px">
              <Box pt="1.5">
                <Tick
                  label={heading}
                  checked={isShown}
                  onChange={(checked) => {
                    // One column at least stands there.
                    if (checked || ids.length > 1) tick(id, checked);
                  }}
                />
              </Box>
              {isShown && (
                <>
                  <IconButton
                    size="2xs"
                    variant="ghost"
                    aria-label={`Move ${heading} to the left`}
                    aria-disabled={at === 0 || undefined}
                    onClick={() => at > 0 && move(at, -1)}
                  >
                    <ArrowLeft size={12} />
                  </IconButton>
                  <IconButton
                    size="2xs"
                    variant="ghost"
                    aria-label={`Move ${heading} to the right`}
                    aria-disabled={at === ids.length - 1 || undefined}
                    onClick={() => at < ids.length - 1 && move(at, 1)}
                  >
                    <ArrowRight size={12} />
                  </IconButton>
                </>
              )}
            </HStack>
          );
        })}
      </HStack>
      <HStack mt="2" gap="2">
        <Button size="xs" minH="28px" onClick={onClose}>
          Done
        </Button>
        <Button
          size="xs"
          variant="outline"
          minH="28px"
          disabled={shown === null}
          onClick={() => onShow(null)}
        >
          All, as in the sheet
        </Button>
        <Text color="ink.soft" fontSize="12.5px">
          {ids.length} of {all.length} columns
        </Text>
      </HStack>
    </Box>
  );
}
