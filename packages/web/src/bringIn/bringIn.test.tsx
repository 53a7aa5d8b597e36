/** @jest-environment jsdom */
import { ChakraProvider } from '@chakra-ui/react';
import type { PreviewColumnView, UploadView, WorkbookView } from '@varn/contract';
import { act, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { MemoryRouter, useLocation } from 'react-router';
import { SWRConfig } from 'swr';
import { fakeServer, refused, type Answered, type Asked } from '../testing/fakeServer';
import { system } from '../theme/system';
import { Arrival } from './Arrival';
import { nameOf, sayOutcomes, sayRows } from './outcomes';
import { pairedByHeading } from './pairing';

const column = (index: number, more: Partial<PreviewColumnView> = {}): PreviewColumnView => ({
  index,
  letters: 'ABCDEFGH'[index] ?? '',
  heading: ['Date', 'River', 'pH', 'Note'][index] ?? '',
  kind: ['date', 'text', 'number', 'text'][index] as PreviewColumnView['kind'],
  decimal: '.',
  dateOrder: 'dmy',
  origin: 'given',
  empty: false,
  ambiguousDates: false,
  ...more,
});
const upload = (more: Partial<UploadView> = {}): UploadView => ({
  id: 'u',
  fileName: 'ash_beck-2026.csv',
  bytes: 100,
  encoding: 'utf-8',
  delimiter: ',',
  headingRow: 1,
  headingRows: 1,
  keepTotals: false,
  guarded: false,
  columns: [column(0), column(1), column(2)],
  rows: [
    ['Date', 'River', 'pH'],
    ['24/11/2026', 'Ash Beck', '7.2'],
  ],
  later: [],
  doubles: [],
  fileRows: 1201,
  records: 1200,
  blankRows: [],
  totalsRows: [],
  shortRows: 0,
  longRows: 0,
  ...more,
});

/** Where one is, told by what stands there. */
function Place() {
  return <p data-testid="place">{useLocation().pathname}</p>;
}

function shown(of: UploadView, workbook?: Partial<WorkbookView>) {
  const onReadAgain = jest.fn();
  const all = (upload: UploadView) => (
    <ChakraProvider value={system}>
      <SWRConfig value={{ provider: () => new Map() }}>
        <MemoryRouter>
          <Place />
          <Arrival
            upload={upload}
            workbook={workbook as WorkbookView | undefined}
            locale="en-GB"
            onReadAgain={onReadAgain}
          />
        </MemoryRouter>
      </SWRConfig>
    </ChakraProvider>
  );
  const { rerender } = render(all(of));
  return { onReadAgain, again: (next: UploadView) => rerender(all(next)) };
}
const atPlace = (path: string): Promise<void> =>
  waitFor(() => expect(screen.getByTestId('place').textContent).toBe(path));

const button = (): HTMLButtonElement => screen.getByRole('button', { name: /^Bring in/ });
const type = (label: string, text: string): void => {
  const field = screen.getByLabelText(label);
  fireEvent.change(field, { target: { value: text } });
  fireEvent.blur(field);
};
const press = (): Promise<void> => act(() => Promise.resolve(void fireEvent.click(button())));
const order = (asked: readonly Asked[]): Record<string, unknown> | undefined =>
  asked.find(({ method, path }) => method === 'POST' && path.endsWith('/bring-in'))?.body;
const brought: Answered = { status: 201, body: { workbookId: 'w', sheetId: 's' } };

test('what is corrected is what is brought in, without what was left out', async () => {
  const asked = fakeServer(({ method }) => (method === 'POST' ? brought : { status: 204 }));
  shown(upload({ columns: [column(0), column(1), column(2), column(3, { empty: true })] }));
  expect(button().textContent).toBe('Bring in 1,200 records, 3 columns');
  type('Name of the sheet', 'Ash Beck');
  type('Heading of column B', 'Stream');
  fireEvent.change(screen.getByLabelText('Kind of column B'), { target: { value: 'oneChoice' } });
  fireEvent.change(screen.getByLabelText('Order of day and month in column A'), {
    target: { value: 'mdy' },
  });
  fireEvent.click(screen.getByLabelText('Bring in column C'));
  await waitFor(() => expect(button().textContent).toBe('Bring in 1,200 records, 2 columns'));
  await press();
  await atPlace('/workbooks/w/sheets/s');
  expect(order(asked)).toMatchObject({
    workbookName: 'ash beck 2026',
    sheetName: 'Ash Beck',
    locale: 'en-GB',
    columns: [
      { index: 0, heading: 'Date', dateOrder: 'mdy' },
      { index: 1, heading: 'Stream', kind: 'oneChoice' },
    ],
  });
});

test('all rows of a file can be scrolled, read as they come into view, and left out', async () => {
  const asked = fakeServer(({ method, body }) =>
    'from' in body
      ? {
          status: 200,
          body: {
            rows: Array.from({ length: 500 }, (_, n) => [`row ${n + Number(body['from'])}`]),
          },
        }
      : method === 'POST'
        ? brought
        : { status: 204 },
  );
  shown(upload({ fileRows: 900, records: 899 }));
  fireEvent.click(screen.getByRole('button', { name: 'Show all rows' }));
  await screen.findByText('row 20');
  const region = screen.getByRole('region', { name: 'What the file becomes' });
  region.scrollTop = 600 * 28;
  fireEvent.scroll(region);
  await screen.findByText('row 601');
  expect(screen.queryByText('row 20')).toBeNull();
  fireEvent.click(screen.getByLabelText('Bring in row 601'));
  await waitFor(() => expect(button().textContent).toBe('Bring in 898 records, 3 columns'));
  await press();
  await waitFor(() => expect(order(asked)).toMatchObject({ without: [601] }));
});

test('into a workbook it takes that one, and asks for no locale', async () => {
  const asked = fakeServer(({ method }) => (method === 'POST' ? brought : { status: 204 }));
  shown(upload(), { id: 'w7', name: 'Riverwatch' });
  expect(screen.queryByLabelText('Name of the new workbook')).toBeNull();
  expect(screen.queryByLabelText('Dates and numbers as in')).toBeNull();
  await press();
  await waitFor(() => expect(order(asked)).toMatchObject({ workbookId: 'w7' }));
  expect(order(asked)).not.toHaveProperty('locale');
});

test('a blank heading is told of at its column, and nothing is sent', async () => {
  const asked = fakeServer(() => brought);
  shown(upload());
  type('Heading of column B', '');
  await press();
  await waitFor(() =>
    expect(screen.getByLabelText('Heading of column B').parentElement?.textContent).toMatch(
      /heading/i,
    ),
  );
  expect(order(asked)).toBeUndefined();
});

test('with no column left there is nothing to bring in', async () => {
  fakeServer(() => brought);
  shown(upload({ columns: [column(0)] }));
  fireEvent.click(screen.getByLabelText('Bring in column A'));
  await waitFor(() => expect(button().disabled).toBe(true));
});

test('what the server refuses is told, and can be sent again, once, under its write id', async () => {
  let tries = 0;
  const asked = fakeServer(({ method }) => {
    if (method !== 'POST') return { status: 204 };
    tries += 1;
    return tries === 1 ? refused(409, 'nameTaken', 'A sheet is called ‘Ash’ already.') : brought;
  });
  shown(upload());
  await press();
  await screen.findByText(/A sheet is called ‘Ash’ already/);
  await press();
  await atPlace('/workbooks/w/sheets/s');
  const ids = asked.flatMap(({ body }) => body['writeId'] ?? []);
  expect([ids.length, new Set(ids).size]).toEqual([2, 1]);
});

test('once it is brought in, a file that can’t be forgotten just now is no failure', async () => {
  fakeServer(({ method }) => (method === 'POST' ? brought : 'none'));
  shown(upload());
  await press();
  await atPlace('/workbooks/w/sheets/s');
});

test('how the file is read can be corrected; read anew, names that were typed stay', async () => {
  fakeServer(() => brought);
  const { onReadAgain, again } = shown(upload());
  type('Name of the sheet', 'Mine');
  const choose = (label: string, value: string): void => {
    fireEvent.change(screen.getByLabelText(label), { target: { value } });
  };
  choose('Separated by', ';');
  choose('Heading', '3');
  fireEvent.click(screen.getByLabelText('Keep totals as records'));
  await waitFor(() => expect(onReadAgain).toHaveBeenCalledTimes(3));
  const asked = onReadAgain.mock.calls.map(([choices]) => choices as object);
  // Cut anew, where the heading stands is guessed anew.
  expect(asked[0]).toEqual(expect.not.objectContaining({ headingRow: 1 }));
  expect(asked).toEqual([
    expect.objectContaining({ delimiter: ';' }),
    expect.objectContaining({ headingRow: 3, headingRows: 1 }),
    expect.objectContaining({ keepTotals: true, headingRow: 1 }),
  ]);
  again(upload({ headingRow: 3, columns: [column(0, { empty: true }), column(1)] }));
  await waitFor(() => expect(button().textContent).toBe('Bring in 1,200 records, 1 column'));
  expect(screen.getByLabelText<HTMLInputElement>('Name of the sheet').value).toBe('Mine');
});

test.each<[rows: number[], says: string]>([
  [[4], 'row 4'],
  [[4, 1200], 'rows 4 and 1,200'],
  [[4, 9, 12], 'rows 4, 9 and 12'],
  [[1, 2, 3, 4, 5, 6, 7, 8, 9, 10], 'rows 1, 2, 3, 4, 5, 6, 7, 8 and 2 more'],
])('%j is said as ‘%s’', (rows, says) => expect(sayRows(rows)).toBe(says));

test.each<[more: Partial<UploadView>, says: string[]]>([
  [{}, []],
  [{ headingRow: 0 }, ['No heading was found: columns are named by their letters.']],
  [{ headingRow: 4 }, ['The rows above row 4 are kept above the sheet’s heading.']],
  [
    { totalsRows: [9], blankRows: [2, 5] },
    ['Left out as totals: row 9.', 'Left out as blank: rows 2 and 5.'],
  ],
  [
    {
      columns: [
        column(0, { origin: 'blank' }),
        column(1, { origin: 'alike' }),
        column(2, { origin: 'blank', empty: true }),
      ],
    },
    [
      'Empty columns are left out: C.',
      'Without a heading, so named by letter: A.',
      'Headed like another, so their letter is added: B.',
    ],
  ],
  [{ shortRows: 1 }, ['1 row shorter than the heading: the missing cells stay blank.']],
  [
    { longRows: 2 },
    ['2 rows longer than the heading: what is past it goes into columns of its own.'],
  ],
])('of %j one is told %j', (more, says) => expect(sayOutcomes(upload(more))).toEqual(says));

test.each([
  ['ash_beck-2026.csv', 'ash beck 2026'],
  ['.csv', '.csv'],
  ['a.b.tsv', 'a.b'],
  ['no ending', 'no ending'],
])('%s is named %s', (file, name) => expect(nameOf(file)).toBe(name));

test('columns of a file are paired with those of a sheet that are called alike, each once', () => {
  const file = ['date', 'WATER-TEMP', 'Water temp', 'Écart', 'Total'].map((heading, index) =>
    column(index, { heading }),
  );
  const sheet = [
    ['d', 'Date', 'date'],
    ['w', 'Water temp', 'number'],
    ['e', 'Ecart', 'text'],
    ['t', 'Total', 'computed'],
  ] as const;
  const columns = sheet.map(([id, heading, kind]) => ({ id, heading, kind, settings: {} }));
  expect(pairedByHeading({ columns: file }, { columns })).toEqual({ 0: 'd', 1: 'w', 3: 'e' });
});
