import { Box, Button, HStack, Text } from '@chakra-ui/react';
import type { BrokenView, SheetView } from '@varn/contract';
import { sayCount, sayCountOf } from '@varn/core';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { addresses } from '../../addresses';
import { Notice } from '../../ui/Notice';
import { TextLink } from '../../ui/TextLink';

interface BrokenProps {
  readonly broken: BrokenView;
  readonly sheet: SheetView;
  readonly columnId: string;
  /** Whether the rule is not switched on yet. */
  readonly isDraft?: boolean;
}

/** The stored values that break rules, each with a way to its row. */
export function Broken({ broken, sheet, columnId, isDraft = false }: BrokenProps) {
  const [isOpen, setOpen] = useState(false);
  const [at, setAt] = useState(-1);
  const navigate = useNavigate();
  const { records, first } = broken;
  const addressOf = (row: number): string =>
    `${addresses.sheet(sheet.workbookId, sheet.id)}?row=${row}&column=${columnId}`;
  const walk = (step: number): void => {
    const next = (Math.max(at, step < 0 ? 0 : -1) + step + first.length) % first.length;
    setAt(next);
    void navigate(addressOf(first[next]?.row ?? 1));
  };
  if (records === 0) {
    return <Notice tone="settled">{isDraft ? 'Every stored value passes.' : 'All pass.'}</Notice>;
  }
  const verb = isDraft ? 'would break it' : records === 1 ? 'breaks a rule' : 'break a rule';
  return (
    <Box fontSize="13px">
      <Notice tone="ask">
        {sayCountOf(records, 'record')} {verb}.
      </Notice>
      <HStack mt="1" gap="1">
        <Button
          size="2xs"
          variant="outline"
          aria-expanded={isOpen}
          onClick={() => setOpen(!isOpen)}
        >
          Show them
        </Button>
        <Button size="2xs" variant="outline" onClick={() => walk(-1)}>
          Previous
        </Button>
        <Button size="2xs" variant="outline" onClick={() => walk(1)}>
          Next
        </Button>
      </HStack>
      {isOpen && (
        <Box as="ul" listStyleType="none" mt="2" maxH="240px" overflow="auto" tabIndex={0}>
          {first.map(({ recordId, row, text, says }) => (
            <Box as="li" key={recordId} pb="1">
              <TextLink to={addressOf(row)}>Row {sayCount(row)}</TextLink>
              {says.some((each) => each.includes(text)) ? ': ' : `: ${text} `}
              <Text as="span" color="ink.soft">
                {says.join(' ')}
              </Text>
            </Box>
          ))}
          {records > first.length && (
            <Text color="ink.soft">and {sayCountOf(records - first.length, 'other')}</Text>
          )}
        </Box>
      )}
    </Box>
  );
}
