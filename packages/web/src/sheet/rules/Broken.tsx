import { Box, Button, Text } from '@chakra-ui/react';
import type { BrokenView, SheetView } from '@varn/contract';
import { sayCount, sayCountOf } from '@varn/core';
import { useState } from 'react';
import { addresses } from '../../addresses';
import { Notice } from '../../ui/Notice';
import { TextLink } from '../../ui/TextLink';

interface BrokenProps {
  readonly broken: BrokenView;
  readonly sheet: SheetView;
  /** Whether the rule is not switched on yet. */
  readonly isDraft?: boolean;
}

/** The stored values that break rules, each with a way to its row. */
export function Broken({ broken, sheet, isDraft = false }: BrokenProps) {
  const [isOpen, setOpen] = useState(false);
  const { records, first } = broken;
  if (records === 0) {
    return <Notice tone="settled">{isDraft ? 'Every stored value passes.' : 'All pass.'}</Notice>;
  }
  const verb = isDraft ? 'would break it' : records === 1 ? 'breaks a rule' : 'break a rule';
  return (
    <Box fontSize="13px">
      <Notice tone="ask">
        {sayCountOf(records, 'record')} {verb}.
      </Notice>
      <Button
        size="2xs"
        variant="outline"
        mt="1"
        aria-expanded={isOpen}
        onClick={() => setOpen(!isOpen)}
      >
        Show them
      </Button>
      {isOpen && (
        <Box as="ul" listStyleType="none" mt="2" maxH="240px" overflow="auto" tabIndex={0}>
          {first.map(({ recordId, row, text, says }) => (
            <Box as="li" key={recordId} pb="1">
              <TextLink to={`${addresses.sheet(sheet.workbookId, sheet.id)}?row=${row}`}>
                Row {sayCount(row)}
              </TextLink>
              : {text}{' '}
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
