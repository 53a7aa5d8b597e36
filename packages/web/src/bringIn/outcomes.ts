import type { UploadView } from '@varn/contract';
import { sayCount, sayCountOf } from '@varn/core';

const MOST_NAMED = 8;

/** `rows 4, 9 and 12`, cut where there are many. */
export function sayRows(rows: readonly number[]): string {
  const named = rows.slice(0, MOST_NAMED).map(sayCount);
  const rest = rows.length - named.length;
  if (rest > 0) return `rows ${named.join(', ')} and ${sayCount(rest)} more`;
  const last = named.pop() ?? '';
  return named.length === 0 ? `row ${last}` : `rows ${named.join(', ')} and ${last}`;
}

/** What becomes of all that is not a plain record, one sentence each. */
export function sayOutcomes(upload: UploadView): string[] {
  const { blankRows, totalsRows, shortRows, longRows, columns, headingRow, doubles } = upload;
  const named = (origin: string): string =>
    columns
      .filter((column) => column.origin === origin && !column.empty)
      .map(({ letters }) => letters)
      .join(', ');
  const blank = named('blank');
  const alike = named('alike');
  const empty = columns.filter((column) => column.empty).map(({ letters }) => letters);
  return [
    ...(headingRow === 0 ? ['No heading was found: columns are named by their letters.'] : []),
    ...(headingRow > 1
      ? [`The rows above row ${sayCount(headingRow)} are kept above the sheet’s heading.`]
      : []),
    ...(empty.length > 0 ? [`Empty columns are left out: ${empty.join(', ')}.`] : []),
    ...(blank ? [`Without a heading, so named by letter: ${blank}.`] : []),
    ...(alike ? [`Headed like another, so their letter is added: ${alike}.`] : []),
    ...(totalsRows.length > 0 ? [`Left out as totals: ${sayRows(totalsRows)}.`] : []),
    ...(blankRows.length > 0 ? [`Left out as blank: ${sayRows(blankRows)}.`] : []),
    ...doubles.map(({ index, values }) => {
      const heading = columns.find((column) => column.index === index)?.heading ?? '';
      return `${heading} has values that occur more than once: ${values.join(', ')}.`;
    }),
    ...(shortRows > 0
      ? [`${sayCountOf(shortRows, 'row')} shorter than the heading: the missing cells stay blank.`]
      : []),
    ...(longRows > 0
      ? [
          `${sayCountOf(longRows, 'row')} longer than the heading: what is past it goes into columns of its own.`,
        ]
      : []),
  ];
}

/** A name to start from: the file's, without its ending. */
export function nameOf(fileName: string): string {
  return (
    fileName
      .replace(/\.[^.]{1,5}$/, '')
      .replace(/[_-]+/g, ' ')
      .trim() || fileName
  );
}
