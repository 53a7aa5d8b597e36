import type { FormEntry } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useState } from 'react';
import { useNavigate, useParams, useSearchParams } from 'react-router';
import { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { request } from '../api/client';
import { useWorkbook } from '../api/resources';
import { BeginForm } from '../frame/BeginForm';
import { Choice } from '../ui/controls';

/** Begins a form: what it is called, where it writes, and what it starts as. */
export function LayOutPage() {
  const { workbookId = '' } = useParams();
  const [search] = useSearchParams();
  const { data: workbook } = useWorkbook(workbookId);
  const [sheetId, setSheetId] = useState(search.get('sheet') ?? '');
  const [like, setLike] = useState(search.get('like') ?? '');
  const { mutate } = useSWRConfig();
  const navigate = useNavigate();
  const begin = async (name: string, writeId: string): Promise<void> => {
    const body = {
      writeId,
      name,
      ...(sheetId !== '' && { sheetId }),
      ...(like !== '' && { like }),
    };
    const form = await request<FormEntry>('POST', paths.forms(workbookId), body);
    await mutate(paths.workbook(workbookId));
    await navigate(addresses.compose(workbookId, form.id));
  };
  const sheets = (workbook?.sheets ?? []).filter(({ hasRecords }) => hasRecords);
  const forms = sheets.flatMap((sheet) => sheet.forms);
  return (
    <BeginForm
      above={[{ label: workbook?.name ?? 'Workbook', to: addresses.contents(workbookId) }]}
      title="Create a form"
      what="form"
      does="Create the form"
      begin={begin}
    >
      <Choice
        label="Writes to"
        value={sheetId}
        options={[
          ['', 'A new sheet of this name'],
          ...sheets.map((sheet) => [sheet.id, sheet.name] as const),
        ]}
        onChange={setSheetId}
      />
      {forms.length > 0 && (
        <Choice
          label="Start from"
          value={like}
          options={[
            ['', 'A blank form'],
            ...forms.map((form) => [form.id, `A copy of ${form.name}`] as const),
          ]}
          onChange={setLike}
        />
      )}
    </BeginForm>
  );
}
