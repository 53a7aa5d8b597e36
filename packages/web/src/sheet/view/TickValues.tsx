import { Box, Input, Stack, Text } from '@chakra-ui/react';
import type { ColumnValuesView, ColumnView, SheetView } from '@varn/contract';
import { LONGEST_CONDITION } from '@varn/contract/limits';
import { paths } from '@varn/contract/paths';
import {
  foldText,
  NOTHING_TICKED,
  readTicked,
  sayCount,
  sayCountOf,
  sayTicked,
  type Ticked,
} from '@varn/core';
import { useState } from 'react';
import useSWR from 'swr';
import { sayError } from '../../api/client';
import { Tick } from '../../ui/controls';
import { Notice } from '../../ui/Notice';

/** Values drawn at once; the others are found by what is typed. */
const MOST_DRAWN = 100;
/** From so many on there is a line to find one in. */
const MANY = 10;

interface TickValuesProps {
  readonly sheet: SheetView;
  readonly column: ColumnView;
  /** The condition on the column, as it is written. */
  readonly says: string;
  readonly onSay: (says: string) => void;
}

/** What a column holds, counted: only the records with what is ticked are seen. */
export function TickValues({ sheet, column, says, onSay }: TickValuesProps) {
  const { data, error } = useSWR<ColumnValuesView, unknown>(
    paths.columnValues(sheet.id, column.id),
    { revalidateOnMount: true, revalidateIfStale: true },
  );
  const [looked, setLooked] = useState('');
  const [isTooLong, setTooLong] = useState(false);
  if (error !== undefined) return <Notice tone="refuse">{sayError(error)}</Notice>;
  if (!data) return <Text color="ink.soft">Counting…</Text>;
  const ticked = readTicked(says) ?? NOTHING_TICKED;
  const put = (next: Ticked): void => {
    const condition = sayTicked(next, column);
    const fits = condition.length <= LONGEST_CONDITION;
    setTooLong(!fits);
    if (fits) onSay(condition);
  };
  const tick = (text: string, isOn: boolean): void => {
    const others = ticked.texts.filter((each) => each !== text);
    put({ ...ticked, texts: isOn ? [...others, text] : others });
  };
  const held = new Set(data.values.map(({ text }) => text));
  const gone = ticked.texts.filter((text) => !held.has(text));
  const all = [...gone.map((text) => ({ text, count: 0 })), ...data.values];
  const wanted = foldText(looked);
  const found = wanted === '' ? all : all.filter(({ text }) => foldText(text).includes(wanted));
  const shown = found.slice(0, MOST_DRAWN);
  const left = found.length - shown.length + data.different - data.values.length;
  return (
    <Stack gap="2">
      <Text fontWeight="500">Or tick what to show</Text>
      {all.length > MANY && (
        <Input
          size="sm"
          bg="leaf"
          borderColor="edge"
          aria-label={`Find among the values of ${column.heading}`}
          placeholder="Find a value"
          value={looked}
          onChange={(event) => setLooked(event.target.value)}
        />
      )}
      <Box
        maxH="300px"
        overflowY="auto"
        tabIndex={0}
        role="group"
        aria-label={`Values of ${column.heading}`}
      >
        <Stack gap="0">
          {wanted === '' && (
            <Tick
              label={<i>blank</i>}
              checked={ticked.blank}
              onChange={(blank) => put({ ...ticked, blank })}
            />
          )}
          {shown.map(({ text, count }) => (
            <Tick
              key={text}
              label={
                <>
                  {text}{' '}
                  <Text as="span" color="ink.soft" fontFamily="mono" fontSize="12.5px">
                    {sayCount(count)}
                  </Text>
                </>
              }
              checked={ticked.texts.includes(text)}
              onChange={(isOn) => tick(text, isOn)}
            />
          ))}
        </Stack>
      </Box>
      <Text role="status" color="ink.soft" fontSize="12.5px" _empty={{ display: 'none' }}>
        {found.length === 0 && wanted !== '' && `No value contains ‘${looked.trim()}’.`}
        {left > 0 && `${sayCountOf(left, 'other value')}: find them by what they contain.`}
      </Text>
      {isTooLong && (
        <Notice tone="refuse">
          That many values can’t be ticked. Untick some, or write a condition above.
        </Notice>
      )}
    </Stack>
  );
}
