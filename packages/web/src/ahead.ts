import type { FormView, SessionView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { preload } from 'swr';
import { read } from './api/held';

/** The addresses of a workbook's places, and of the form or sheet that is shown there. */
const PLACE = /^\/workbooks\/([\w-]+)(?:\/(forms|sheets)\/([\w-]+))?/;

/**
 * Asks for what the page at an address will show while its scripts are still on their way: over a
 * slow network they would be asked for one after another.
 */
export function readAhead(pathname: string): void {
  const [, workbookId, kind, id] = PLACE.exec(pathname) ?? [];
  if (workbookId === undefined) return;
  if (kind === 'forms') void import('./desk/DeskPage');
  preload(paths.session, read<SessionView>)
    .then(({ person }) => {
      // Whoever is not signed in is asked to, and nothing else.
      if (!person) return;
      void preload(paths.workbook(workbookId), read).catch(() => undefined);
      if (id === undefined) return;
      void (kind === 'forms' ? formAhead(id) : preload(paths.sheet(id), read)).catch(
        () => undefined,
      );
    })
    // What went wrong is told where it is shown.
    .catch(() => undefined);
}

/** A form, and what its fields offer: one waits for both. */
async function formAhead(id: string): Promise<void> {
  const { sheet } = await preload(paths.form(id), read<FormView>);
  if (!sheet.columns.some(({ settings }) => settings.list)) return;
  await preload(paths.sheetLists(sheet.id), read);
}
