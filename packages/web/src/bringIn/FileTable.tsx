import { Box, Button, Checkbox, HStack, Table, Text } from '@chakra-ui/react';
import type { PreviewColumnView, UploadView } from '@varn/contract';
import { sayCount } from '@varn/core';
import { Fragment, useState, type ReactNode } from 'react';
import { useFileRows } from './useFileRows';

/** How tall a row stands where all are scrolled: those out of sight are not drawn. */
const ROW_PX = 28;
/** Rows drawn beyond those that are seen. */
const BEYOND = 10;
/** How tall the part is in which rows are seen, at most. */
const SEEN_PX = 620;

export interface LeftOutRows {
  /** Rows of the file that are left out, from 1. */
  readonly without: ReadonlySet<number>;
  readonly onWithout: (without: ReadonlySet<number>) => void;
}

interface FileTableProps extends LeftOutRows {
  readonly upload: UploadView;
  /** Columns that are left out, by their place in the file. */
  readonly leftOut: ReadonlySet<number>;
  /** What stands over a column. */
  readonly head: (column: PreviewColumnView) => ReactNode;
}

/**
 * Rows of a file as they are, each to be left out: the first, those with something odd and the
 * last; or all of them.
 */
export function FileTable({ upload, leftOut, without, onWithout, head }: FileTableProps) {
  const { columns, rows, later, fileRows } = upload;
  const [showsAll, setShowsAll] = useState(false);
  const [top, setTop] = useState(0);
  const shown = rows.length + later.length;
  const row = (number: number, cells: readonly string[] | null): ReactNode => (
    <FileRow
      {...{ row: number, cells, upload, leftOut }}
      isTaken={!without.has(number)}
      onTake={(taken) =>
        onWithout(
          new Set(taken ? [...without].filter((each) => each !== number) : [...without, number]),
        )
      }
    />
  );
  return (
    <Box>
      {fileRows > shown && (
        <HStack mb="2" gap="3" wrap="wrap">
          <Text color="ink.soft">
            {showsAll
              ? `All ${sayCount(fileRows)} rows of the file.`
              : `${sayCount(shown)} of ${sayCount(fileRows)} rows: the first, the last, and any that stand out.`}
          </Text>
          <Button
            size="xs"
            variant="outline"
            onClick={() => {
              setShowsAll(!showsAll);
              setTop(0);
            }}
          >
            {showsAll ? 'Show fewer rows' : 'Show all rows'}
          </Button>
        </HStack>
      )}
      <Box
        key={String(showsAll)}
        overflow="auto"
        maxH="56vh"
        bg="leaf"
        borderWidth="1px"
        borderRadius="8px"
        tabIndex={0}
        role="region"
        aria-label="What the file becomes"
        onScroll={({ currentTarget }) => setTop(currentTarget.scrollTop)}
      >
        <Table.Root
          size="sm"
          css={{ '& th, & td': { borderColor: 'rule' } }}
          aria-rowcount={fileRows + 1}
        >
          <Table.Header position="sticky" top="0" zIndex="1">
            <Table.Row bg="leaf">
              <Table.ColumnHeader>
                <Text srOnly>Row</Text>
              </Table.ColumnHeader>
              {columns.map((column) => (
                <Table.ColumnHeader key={column.index} verticalAlign="top" minW="176px">
                  {head(column)}
                </Table.ColumnHeader>
              ))}
            </Table.Row>
          </Table.Header>
          <Table.Body>
            {showsAll ? (
              <AllRows upload={upload} top={top} row={row} />
            ) : (
              <SomeRows upload={upload} row={row} />
            )}
          </Table.Body>
        </Table.Root>
      </Box>
    </Box>
  );
}

interface RowsProps {
  readonly upload: UploadView;
  readonly row: (number: number, cells: readonly string[] | null) => ReactNode;
}

/** The first rows, those that stand out, and the last, with what is between them told. */
function SomeRows({ upload: { columns, rows, later }, row }: RowsProps) {
  const all = [
    ...rows.map((cells, index) => ({ number: index + 1, cells })),
    ...later.map(({ row: number, cells }) => ({ number, cells })),
  ];
  return all.map(({ number, cells }, n) => (
    <Fragment key={number}>
      {number > (all[n - 1]?.number ?? 0) + 1 && (
        <Table.Row bg="leaf">
          <Table.Cell colSpan={columns.length + 1} color="ink.soft" py="1">
            …
          </Table.Cell>
        </Table.Row>
      )}
      {row(number, cells)}
    </Fragment>
  ));
}

/** All rows, of which only those in sight are drawn and read. @param top how far they are scrolled */
function AllRows({ upload, top, row }: RowsProps & { readonly top: number }) {
  const { fileRows, columns, rows } = upload;
  const seen = Math.ceil(SEEN_PX / ROW_PX) + 2 * BEYOND;
  const first = Math.max(1, Math.min(Math.floor(top / ROW_PX) + 1 - BEYOND, fileRows - seen + 1));
  const end = Math.min(fileRows, first + seen - 1);
  const at = useFileRows(upload, first);
  const spacer = (rows: number): ReactNode =>
    rows > 0 && (
      <tr aria-hidden>
        <td colSpan={columns.length + 1} style={{ height: rows * ROW_PX, padding: 0 }} />
      </tr>
    );
  return (
    <>
      {spacer(first - 1)}
      {Array.from({ length: end - first + 1 }, (_, n) => (
        <Fragment key={first + n}>
          {row(first + n, at(first + n) ?? rows[first + n - 1] ?? null)}
        </Fragment>
      ))}
      {spacer(fileRows - end)}
    </>
  );
}

interface FileRowProps {
  readonly row: number;
  /** `null` while they are on their way. */
  readonly cells: readonly string[] | null;
  readonly upload: UploadView;
  readonly leftOut: ReadonlySet<number>;
  readonly isTaken: boolean;
  readonly onTake: (taken: boolean) => void;
}

function FileRow({ row, cells, upload, leftOut, isTaken, onTake }: FileRowProps) {
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
      h={`${ROW_PX}px`}
      aria-rowindex={row + 1}
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
        py="0"
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
          py="0"
          fontFamily="mono"
          fontSize="13px"
          maxW="260px"
          overflow="hidden"
          textOverflow="ellipsis"
          whiteSpace="nowrap"
          fontWeight={isHeading ? 600 : undefined}
          textDecoration={leftOut.has(index) ? 'line-through' : undefined}
        >
          {cells ? cells[index]?.slice(0, 200) : '…'}
        </Table.Cell>
      ))}
    </Table.Row>
  );
}
