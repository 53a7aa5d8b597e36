import { Button, Stack } from '@chakra-ui/react';
import type { BroughtIn, UploadView, WorkbookView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import {
  countryName,
  readyMade,
  readyMadeFor,
  type Column,
  type ListSettings,
  type LocaleFacts,
} from '@varn/core';
import { unparse } from 'papaparse';
import { useRef, useState } from 'react';
import useSWR, { useSWRConfig } from 'swr';
import { request, sayError } from '../api/client';
import { newId } from '../api/newId';
import { useWorkbook } from '../api/resources';
import { partOf, sourceOf } from '../sheet/lists/sources';
import { Choice } from '../ui/controls';
import { Notice } from '../ui/Notice';

/** The sheet that all parts of all countries stand in. */
const SHEET = 'Parts of countries';
const [COUNTRY, PART] = ['Country', 'Part'];

interface PartsOfCountryProps {
  readonly workbookId: string;
  readonly locale: LocaleFacts;
  /** The other columns of the sheet: one that holds a country narrows the parts. */
  readonly others: readonly Column[];
  readonly onChoices: (choices: readonly string[]) => void;
  readonly onList: (list: ListSettings) => void;
}

/** The parts of one country as choices, or those of all, narrowed by the country of the record. */
export function PartsOfCountry(props: PartsOfCountryProps) {
  const { workbookId, locale, others, onChoices, onList } = props;
  const { data: workbook } = useWorkbook(workbookId);
  const { data: places } = useSWR('places', () => import('./countries'));
  const { mutate } = useSWRConfig();
  const [isBusy, setBusy] = useState(false);
  const [failure, setFailure] = useState('');
  const writeId = useRef(newId());
  if (!workbook || !places) return null;
  const countries = places.COUNTRY_CODES.map(
    (code) => [code, countryName(code, locale.tag)] as const,
  );
  const country = others.find(({ heading }) => readyMadeFor(heading) === 'countries');
  const narrow = async (): Promise<void> => {
    setBusy(true);
    try {
      const rows = countries.flatMap(([code, name]) =>
        places.partsOf(code).map((part) => [name, part]),
      );
      await makeSheet(workbook, rows, writeId.current);
      await mutate(paths.workbook(workbookId));
      onList({
        source: sourceOf(SHEET, PART),
        order: 'rising',
        ...(country && { narrowed: [{ by: partOf(COUNTRY), columnId: country.id }] }),
      });
    } catch (error) {
      setFailure(sayError(error));
      setBusy(false);
    }
  };
  return (
    <Stack gap="2">
      <Choice
        label="Parts of"
        value=""
        options={[
          ['', 'Choose a country'],
          ...countries.toSorted(([, a], [, b]) => a.localeCompare(b, locale.tag)),
        ]}
        onChange={(code) => {
          if (code !== '') onChoices(readyMade('parts', locale.tag, places.partsOf(code)));
        }}
      />
      {country && (
        <Button
          size="xs"
          variant="outline"
          alignSelf="start"
          loading={isBusy}
          onClick={() => void narrow()}
        >
          Of all countries, narrowed by {country.heading}
        </Button>
      )}
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
    </Stack>
  );
}

/** Makes the sheet of all parts, where the workbook has none yet. */
async function makeSheet(
  { id: workbookId, sheets }: WorkbookView,
  rows: readonly (readonly string[])[],
  writeId: string,
): Promise<void> {
  if (sheets.some(({ name }) => name === SHEET)) return;
  const file = new Blob([unparse({ fields: [COUNTRY, PART], data: rows as string[][] })]);
  const query = new URLSearchParams({ workbookId }).toString();
  const upload = await request<UploadView>(
    'POST',
    `${paths.uploads(`${SHEET}.csv`)}&${query}`,
    file,
  );
  const { id, encoding, delimiter, headingRow, headingRows, keepTotals, guarded, columns } = upload;
  await request<BroughtIn>('POST', paths.bringIn(id), {
    writeId,
    workbookId,
    sheetName: SHEET,
    ...{ encoding, delimiter, headingRow, headingRows, keepTotals, guarded },
    columns: columns.map(({ index, heading, decimal, dateOrder }) => {
      return { index, heading, kind: 'text', decimal, dateOrder };
    }),
  });
  void request('DELETE', paths.upload(id)).catch(() => undefined);
}
