import { Button, Text } from '@chakra-ui/react';
import type { ColumnValuesView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { sayCountOf, type Column } from '@varn/core';
import { useState } from 'react';
import { request, sayError } from '../api/client';
import { Notice } from '../ui/Notice';

/** More than so many choices are nobody's list. */
const MOST_TAKEN = 200;

interface HeldChoicesProps {
  readonly sheetId: string;
  readonly column: Column<string>;
  readonly onTake: (texts: readonly string[]) => void;
}

/** Offers as choices what the column holds already and the list does not. */
export function HeldChoices({ sheetId, column, onTake }: HeldChoicesProps) {
  const [said, setSaid] = useState('');
  const [failure, setFailure] = useState('');
  const take = async (): Promise<void> => {
    try {
      const path = paths.columnValues(sheetId, column.id);
      const { values } = await request<ColumnValuesView>('GET', path);
      const listed = new Set(column.settings.choices);
      const fresh = values.map(({ text }) => text).filter((text) => !listed.has(text));
      const taken = fresh.slice(0, MOST_TAKEN);
      if (taken.length > 0) onTake(taken);
      const left = fresh.length - taken.length;
      setSaid(
        taken.length === 0
          ? 'All that the column holds is on the list.'
          : `${sayCountOf(taken.length, 'choice')} added, the most frequent first.${left > 0 ? ` ${left} more are left out.` : ''}`,
      );
      setFailure('');
    } catch (error) {
      setFailure(sayError(error));
    }
  };
  return (
    <>
      <Button size="xs" variant="outline" alignSelf="start" onClick={() => void take()}>
        Add the column’s values
      </Button>
      <Text role="status" fontSize="12.5px" color="ink.soft" _empty={{ display: 'none' }}>
        {said}
      </Text>
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
    </>
  );
}
