import { Field, Textarea } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useState, type ClipboardEvent } from 'react';
import { useNavigate, useParams } from 'react-router';
import { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { request } from '../api/client';
import { useWorkbook } from '../api/resources';
import { fileOf, rowsCopied, useBringInTable, usePastedTable } from '../sheet/pastedTable';
import { BeginForm } from '../frame/BeginForm';
import { Choice } from '../ui/controls';

type Holds = 'records' | 'cells';

const HOLDS: readonly (readonly [Holds, string])[] = [
  ['records', 'Records, under headings'],
  ['cells', 'Cells of any sort: choices, notes, summaries'],
];

/** Adds a sheet to a workbook: with a record block, or of free cells. */
export function AddSheetPage() {
  const { workbookId = '' } = useParams();
  const { data: workbook } = useWorkbook(workbookId);
  const [holds, setHolds] = useState<Holds>('records');
  const [typed, setTyped] = useState('');
  const { mutate } = useSWRConfig();
  const navigate = useNavigate();
  const bringInTable = useBringInTable(workbookId);
  usePastedTable(bringInTable);
  // A table is brought in as a file would: its first row becomes headings, the others records.
  const onPaste = (event: ClipboardEvent): void => {
    const rows = rowsCopied(event.clipboardData);
    const text = event.clipboardData.getData('text/plain').trim();
    const isOneRow = !text.includes('\n') && text.includes('\t');
    if (!rows && !isOneRow) return;
    event.preventDefault();
    if (rows) bringInTable(fileOf(rows, 'Pasted table'));
    else setTyped((held) => [held.trimEnd(), ...text.split('\t')].filter(Boolean).join('\n'));
  };
  const lines = holds === 'records' ? typed.split('\n').map((line) => line.trim()) : [];
  const headings = lines.filter((line) => line !== '');
  const begin = async (name: string, writeId: string): Promise<void> => {
    const body = { writeId, name, headings };
    const sheet = await request<SheetView>('POST', paths.sheets(workbookId), body);
    await mutate(paths.workbook(workbookId));
    await navigate(addresses.sheet(workbookId, sheet.id));
  };
  return (
    <BeginForm
      above={[{ label: workbook?.name ?? 'Workbook', to: addresses.contents(workbookId) }]}
      title="Add a sheet"
      what="sheet"
      does="Create the sheet"
      problem={() =>
        holds === 'records' && headings.length === 0 ? 'Records need one heading at least.' : null
      }
      begin={begin}
    >
      <Choice
        label="Contents"
        value={holds}
        options={HOLDS}
        onChange={(value) => setHolds(value as Holds)}
      />
      {holds === 'records' && (
        <Field.Root>
          <Field.Label>Headings</Field.Label>
          <Field.HelperText mt="0">
            One per line, or paste a copied table: its first row becomes the headings, the others
            records.
          </Field.HelperText>
          <Textarea
            rows={4}
            bg="leaf"
            borderColor="edge"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
            onPaste={onPaste}
          />
        </Field.Root>
      )}
    </BeginForm>
  );
}
