import { Box, Checkbox, HStack, Input, NativeSelect, Stack, Table, Text } from '@chakra-ui/react';
import type { BringIn, PreviewColumnView, UploadView } from '@varn/contract';
import { kindOf, KINDS, type KindId } from '@varn/core';
import { Fragment } from 'react';
import { useFormContext, useWatch } from 'react-hook-form';

/** The kinds a file's column can become. */
const OFFERED = Object.values(KINDS).filter(
  ({ filledBy, typing }) => filledBy === 'people' && typing !== 'none',
);

interface ArrivalTableProps {
  readonly upload: UploadView;
  readonly leftOut: ReadonlySet<number>;
  readonly onLeaveOut: (leftOut: ReadonlySet<number>) => void;
  /** Rows of the file that are left out, from 1. */
  readonly without: ReadonlySet<number>;
  readonly onWithout: (without: ReadonlySet<number>) => void;
}

/**
 * Rows of the file under the headings and kinds they would get; both can be corrected, and rows be
 * left out: the first, those with something odd, and the last.
 */
export function ArrivalTable(props: ArrivalTableProps) {
  const { upload, leftOut, onLeaveOut, without, onWithout } = props;
  const { columns, rows, later } = upload;
  const all = [...rows.map((cells, index) => ({ row: index + 1, cells })), ...later];
  const toggle = (index: number, taken: boolean): void =>
    onLeaveOut(
      new Set(taken ? [...leftOut].filter((each) => each !== index) : [...leftOut, index]),
    );
  return (
    <Box
      overflow="auto"
      maxH="56vh"
      bg="leaf"
      borderWidth="1px"
      borderRadius="8px"
      tabIndex={0}
      role="region"
      aria-label="What the file becomes"
    >
      <Table.Root size="sm" css={{ '& th, & td': { borderColor: 'rule' } }}>
        <Table.Header>
          <Table.Row bg="leaf">
            <Table.ColumnHeader>
              <Text srOnly>Row</Text>
            </Table.ColumnHeader>
            {columns.map((column) => (
              <Table.ColumnHeader
                key={column.index}
                verticalAlign="top"
                minW="176px"
                opacity={leftOut.has(column.index) ? 0.75 : 1}
              >
                <ColumnFields
                  column={column}
                  taken={!leftOut.has(column.index)}
                  onTake={(taken) => toggle(column.index, taken)}
                />
              </Table.ColumnHeader>
            ))}
          </Table.Row>
        </Table.Header>
        <Table.Body>
          {all.map(({ row, cells }, n) => (
            <Fragment key={row}>
              {row > (all[n - 1]?.row ?? 0) + 1 && (
                <Table.Row bg="leaf">
                  <Table.Cell colSpan={columns.length + 1} color="ink.soft" py="1">
                    …
                  </Table.Cell>
                </Table.Row>
              )}
              <PreviewRow
                {...{ row, cells, upload, leftOut }}
                isTaken={!without.has(row)}
                onTake={(taken) =>
                  onWithout(
                    new Set(
                      taken ? [...without].filter((each) => each !== row) : [...without, row],
                    ),
                  )
                }
              />
            </Fragment>
          ))}
        </Table.Body>
      </Table.Root>
    </Box>
  );
}

interface ColumnFieldsProps {
  readonly column: PreviewColumnView;
  readonly taken: boolean;
  readonly onTake: (taken: boolean) => void;
}

function ColumnFields({ column, taken, onTake }: ColumnFieldsProps) {
  const { register, formState, setValue } = useFormContext<BringIn>();
  const { index, letters, ambiguousDates } = column;
  const kind = useWatch<BringIn, `columns.${number}.kind`>({ name: `columns.${index}.kind` });
  const dateOrder = useWatch<BringIn, `columns.${number}.dateOrder`>({
    name: `columns.${index}.dateOrder`,
  });
  const problem = formState.errors.columns?.[index]?.heading?.message;
  const isDate = kindOf({ kind }).iso !== undefined && kind !== 'time';
  return (
    <Stack gap="1.5">
      <HStack justify="space-between">
        <Text fontFamily="mono" color="ink.soft" fontSize="12px">
          {letters}
        </Text>
        <Checkbox.Root
          size="sm"
          checked={taken}
          onCheckedChange={({ checked }) => onTake(checked === true)}
        >
          <Checkbox.HiddenInput aria-label={`Bring in column ${letters}`} />
          <Checkbox.Control borderColor="edge" />
        </Checkbox.Root>
      </HStack>
      <Input
        size="xs"
        borderColor={problem ? 'madder' : 'edge'}
        fontWeight="600"
        disabled={!taken}
        aria-label={`Heading of column ${letters}`}
        {...register(`columns.${index}.heading`)}
      />
      {problem && (
        <Text color="madder" fontSize="12px">
          {problem}
        </Text>
      )}
      <NativeSelect.Root size="xs" disabled={!taken}>
        <NativeSelect.Field
          borderColor="edge"
          aria-label={`Kind of column ${letters}`}
          value={kind}
          onChange={(event) => setValue(`columns.${index}.kind`, event.target.value as KindId)}
        >
          {OFFERED.map(({ id, label }) => (
            <option key={id} value={id}>
              {label}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      {isDate && taken && (
        <NativeSelect.Root size="xs">
          <NativeSelect.Field
            borderColor={ambiguousDates ? 'amber' : 'edge'}
            aria-label={`Order of day and month in column ${letters}`}
            value={dateOrder}
            onChange={(event) =>
              setValue(`columns.${index}.dateOrder`, event.target.value as 'dmy')
            }
          >
            <option value="dmy">day first</option>
            <option value="mdy">month first</option>
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      )}
      {isDate && taken && ambiguousDates && (
        <Text color="amber" fontSize="12px">
          Could be either: choose one
        </Text>
      )}
    </Stack>
  );
}

interface PreviewRowProps {
  readonly row: number;
  readonly cells: readonly string[];
  readonly upload: UploadView;
  readonly leftOut: ReadonlySet<number>;
  readonly isTaken: boolean;
  readonly onTake: (taken: boolean) => void;
}

function PreviewRow({ row, cells, upload, leftOut, isTaken, onTake }: PreviewRowProps) {
  const { headingRow, headingRows, blankRows, totalsRows, columns } = upload;
  const isHeading = headingRow > 0 && row >= headingRow && row < headingRow + headingRows;
  const isAbove = headingRow > 0 && row < headingRow;
  const word = isHeading
    ? 'heading'
    : isAbove
      ? 'above'
      : totalsRows.includes(row)
        ? 'totals'
        : blankRows.includes(row)
          ? 'blank'
          : '';
  const quiet = (word !== '' && !isHeading) || !isTaken;
  const isRecord = word === '';
  return (
    <Table.Row
      bg={isHeading ? 'brass.wash' : 'leaf'}
      color={quiet ? 'ink.soft' : undefined}
      fontStyle={quiet ? 'italic' : undefined}
    >
      <Table.Cell
        fontFamily="mono"
        fontSize="12px"
        color="ink.soft"
        whiteSpace="nowrap"
        textAlign="end"
      >
        <HStack gap="2" justify="end">
          {isTaken ? word : 'left out'} {row}
          {isRecord && (
            <Checkbox.Root
              size="sm"
              checked={isTaken}
              onCheckedChange={({ checked }) => onTake(checked === true)}
            >
              <Checkbox.HiddenInput aria-label={`Bring in row ${row}`} />
              <Checkbox.Control borderColor="edge" />
            </Checkbox.Root>
          )}
        </HStack>
      </Table.Cell>
      {columns.map(({ index }) => (
        <Table.Cell
          key={index}
          fontFamily="mono"
          fontSize="13px"
          maxW="260px"
          overflow="hidden"
          textOverflow="ellipsis"
          whiteSpace="nowrap"
          fontWeight={isHeading ? 600 : undefined}
          textDecoration={leftOut.has(index) ? 'line-through' : undefined}
        >
          {cells[index]?.slice(0, 200)}
        </Table.Cell>
      ))}
    </Table.Row>
  );
}
