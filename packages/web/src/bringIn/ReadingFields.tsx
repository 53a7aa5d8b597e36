import { Flex } from '@chakra-ui/react';
import {
  DELIMITERS,
  ENCODINGS,
  type Delimiter,
  type Encoding,
  type ReadingChoices,
  type UploadView,
} from '@varn/contract';
import { sayCount } from '@varn/core';
import { Choice, Tick } from '../ui/controls';
import { localeNames } from '../ui/ways';

const DELIMITER_NAMES: Readonly<Record<Delimiter, string>> = {
  ',': 'Comma',
  ';': 'Semicolon',
  '\t': 'Tab',
  '|': 'Bar',
};
const ENCODING_NAMES: Readonly<Record<Encoding, string>> = {
  'utf-8': 'UTF-8',
  'utf-16le': 'UTF-16 (little-endian)',
  'utf-16be': 'UTF-16 (big-endian)',
  'windows-1252': 'Windows-1252',
};
/** How far down the heading may be said to stand. */
const DEEPEST = 30;

interface ReadingFieldsProps {
  readonly upload: UploadView;
  /** The new workbook's locale; `null` when it goes into one that has its own. */
  readonly locale: string | null;
  readonly onReadAgain: (choices: ReadingChoices) => void;
}

/** How the file is read: guessed, and each guess can be corrected; then it is read anew. */
export function ReadingFields({ upload, locale, onReadAgain }: ReadingFieldsProps) {
  const { encoding, delimiter, headingRow, headingRows, keepTotals, guarded } = upload;
  const choices: ReadingChoices = {
    encoding,
    delimiter,
    headingRow,
    headingRows,
    keepTotals,
    guarded,
  };
  // Where the heading is, and what totals are, is guessed anew when the cells are cut anew.
  const { headingRow: _row, headingRows: _rows, ...cutting } = choices;
  return (
    <Flex gap="5" wrap="wrap" align="end">
      <Choice
        label="Heading"
        value={String(headingRow)}
        options={Array.from({ length: DEEPEST + 1 }, (_, row) => [
          String(row),
          row === 0 ? 'None' : `Row ${sayCount(row)}`,
        ])}
        onChange={(value) => onReadAgain({ ...choices, headingRow: Number(value), headingRows: 1 })}
      />
      <Choice
        label="Separated by"
        value={delimiter}
        options={DELIMITERS.map((each) => [each, DELIMITER_NAMES[each]])}
        onChange={(value) => onReadAgain({ ...cutting, delimiter: value as Delimiter })}
      />
      <Choice
        label="Encoding"
        value={encoding}
        options={ENCODINGS.map((each) => [each, ENCODING_NAMES[each]])}
        onChange={(value) => onReadAgain({ ...cutting, encoding: value as Encoding })}
      />
      {locale !== null && (
        <Choice
          label="Dates and numbers as in"
          value={locale}
          options={localeNames(locale)}
          onChange={(value) => onReadAgain({ ...choices, locale: value })}
        />
      )}
      <Tick
        label="Heading of two rows"
        checked={headingRows === 2}
        onChange={(checked) => onReadAgain({ ...choices, headingRows: checked ? 2 : 1 })}
      />
      <Tick
        label="Keep totals as records"
        checked={keepTotals}
        onChange={(checked) => onReadAgain({ ...choices, keepTotals: checked })}
      />
      <Tick
        label="Remove protective apostrophes"
        hint="Exports put ' before a text that a spreadsheet would run as a formula."
        checked={guarded}
        onChange={(checked) => onReadAgain({ ...choices, guarded: checked })}
      />
    </Flex>
  );
}
