import { Box, Button, HStack, Text } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import type { Column } from '@varn/core';
import { useState, type ReactNode } from 'react';
import { Choice } from '../../ui/controls';
import { RangeField } from '../RangeField';
import { goingDown, headingOf, headingsIn, partOf } from './sources';

interface PartProps {
  readonly label: string;
  readonly none: string;
  readonly of: string | undefined;
  readonly source: SheetView | undefined;
  readonly ofRecords: boolean;
  readonly onPut: (part: string) => void;
}

/** Something that is said of the source's row: a column of it, or, beside a range, another range. */
export function Part({ label, none, of, source, ofRecords, onPut }: PartProps) {
  if (!source) return null;
  if (!ofRecords) {
    return (
      <RangeField
        label={`${label}, a range as long`}
        workbookId={source.workbookId}
        sheetId={source.id}
        anySheet
        value={of ?? ''}
        onPut={(range) => onPut(range === '' ? '' : goingDown(range))}
      />
    );
  }
  const heading = headingOf(of);
  return (
    <Choice
      label={label}
      value={heading ?? of ?? ''}
      options={[
        ['', none],
        ...(of !== undefined && heading === null ? [[of, of] as const] : []),
        ...headingsIn(source),
      ]}
      onChange={(value) => onPut(value === '' || value === of ? value : partOf(value))}
    />
  );
}

export interface TiedRow {
  readonly part: string;
  readonly columnId: string;
}

interface TiedProps {
  readonly title: string;
  readonly add: string;
  readonly words: readonly [string, string];
  readonly rows: readonly TiedRow[];
  readonly source: SheetView | undefined;
  readonly others: readonly Column[];
  readonly onPut: (rows: readonly TiedRow[]) => void;
  /** What else can be said of one of them. */
  readonly beside?: (row: TiedRow, at: number) => ReactNode;
}

/** Columns of the source, each tied to a field of the form. */
export function Tied({ title, add, words, rows, source, others, onPut, beside }: TiedProps) {
  const [isAdding, setAdding] = useState(false);
  if (!source || others.length === 0) return null;
  const put = (at: number, row: TiedRow): void => onPut(rows.with(at, row));
  const alike = (heading: string): string =>
    others.find((each) => each.heading === heading)?.id ?? others[0]?.id ?? '';
  return (
    <Box role="group" aria-label={title}>
      <Text fontWeight="600" fontSize="13px">
        {title}
      </Text>
      {rows.map((row, at) => (
        <HStack key={`${row.part} ${row.columnId}`} align="end" wrap="wrap">
          <SourcePart
            label={words[0]}
            value={row.part}
            source={source}
            onPut={(part) => part !== '' && put(at, { ...row, part })}
          />
          <Choice
            label={words[1]}
            value={row.columnId}
            options={others.map(({ id, heading }) => [id, heading])}
            onChange={(columnId) => put(at, { ...row, columnId })}
          />
          <Button
            size="xs"
            variant="outline"
            mb="1"
            aria-label={`Remove ${words[0]} ${headingOf(row.part) ?? row.part}`}
            onClick={() => onPut(rows.toSpliced(at, 1))}
          >
            Remove
          </Button>
          {beside?.(row, at)}
        </HStack>
      ))}
      {isAdding ? (
        <SourcePart
          label={words[0]}
          value=""
          source={source}
          onPut={(part) => {
            setAdding(false);
            if (part !== '') onPut([...rows, { part, columnId: alike(headingOf(part) ?? '') }]);
          }}
        />
      ) : (
        <Button size="xs" variant="outline" onClick={() => setAdding(true)}>
          {add}
        </Button>
      )}
    </Box>
  );
}

interface SourcePartProps {
  readonly label: string;
  readonly value: string;
  readonly source: SheetView;
  readonly onPut: (part: string) => void;
}

/** A column of the source, or, beside a range, a range as long. */
function SourcePart({ label, value, source, onPut }: SourcePartProps) {
  if (!source.hasRecords) {
    return (
      <RangeField
        label={label}
        workbookId={source.workbookId}
        sheetId={source.id}
        anySheet
        value={value}
        onPut={(range) => onPut(range === '' ? '' : goingDown(range))}
      />
    );
  }
  return (
    <Choice
      label={label}
      value={headingOf(value) ?? value}
      options={[...(value === '' ? [['', 'Choose a column'] as const] : []), ...headingsIn(source)]}
      onChange={(heading) => onPut(heading === '' ? '' : partOf(heading))}
    />
  );
}
