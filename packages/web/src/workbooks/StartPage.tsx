import type { WorkbookEntry } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useNavigate } from 'react-router';
import { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { request } from '../api/client';
import { BeginForm } from '../frame/BeginForm';

/** Starts a blank workbook; dates and numbers are read as the browser's person writes them. */
export function StartPage() {
  const { mutate } = useSWRConfig();
  const navigate = useNavigate();
  const begin = async (name: string, writeId: string): Promise<void> => {
    const { timeZone } = Intl.DateTimeFormat().resolvedOptions();
    const body = { writeId, name, locale: navigator.language, timeZone };
    const { id } = await request<WorkbookEntry>('POST', paths.workbooks, body);
    await mutate(paths.workbooks);
    await navigate(addresses.contents(id));
  };
  return <BeginForm title="Start a blank workbook" what="workbook" does="Start it" begin={begin} />;
}
