import type { WorkbookEntry } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { request } from '../api/client';
import { BeginForm } from '../frame/BeginForm';
import { browserWays } from '../ui/ways';
import { WaysFields } from './WaysFields';

/** Starts a blank workbook; it begins with what the browser's person is used to. */
export function StartPage() {
  const { mutate } = useSWRConfig();
  const navigate = useNavigate();
  const [ways, setWays] = useState(browserWays);
  const begin = async (name: string, writeId: string): Promise<void> => {
    const { id } = await request<WorkbookEntry>('POST', paths.workbooks, {
      writeId,
      name,
      ...ways,
    });
    await mutate(paths.workbooks);
    await navigate(addresses.contents(id));
  };
  return (
    <BeginForm
      title="Start a blank workbook"
      what="workbook"
      does="Create the workbook"
      begin={begin}
    >
      <WaysFields ways={ways} onChange={setWays} />
    </BeginForm>
  );
}
