import { Button } from '@chakra-ui/react';
import type { Written } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useState } from 'react';
import { useSWRConfig } from 'swr';
import { request, sayError } from '../api/client';
import { readAnew } from '../api/events';
import { newId } from '../api/newId';
import { Notice } from '../ui/Notice';
import { UnderwayNote } from '../ui/UnderwayNote';
import { sayNotes } from '../ui/sayNotes';

interface ManyDoneProps {
  readonly says: string;
  /** The write that can be taken back. */
  readonly writeId: string;
  readonly workbookId: string;
  readonly onUndone: () => void;
}

/** What was done to all matches at once, and its Undo. */
export function ManyDone({ says, writeId, workbookId, onUndone }: ManyDoneProps) {
  const { mutate } = useSWRConfig();
  const [failure, setFailure] = useState('');
  const [undone, setUndone] = useState('');
  const [running, setRunning] = useState<string | null>(null);
  const undo = async (): Promise<void> => {
    if (running !== null) return;
    const body = { writeId: newId(), undoes: writeId };
    setRunning(body.writeId);
    try {
      const told = sayNotes(await request<Written>('POST', paths.undo(workbookId), body));
      readAnew(mutate, paths.workbook(workbookId), '/api/sheets/', '/api/forms/');
      // What rules say of what came back is to be read first.
      if (told === '') onUndone();
      else setUndone(`Undone.${told}`);
    } catch (error) {
      setFailure(sayError(error));
    } finally {
      setRunning(null);
    }
  };
  return (
    <>
      <span role="status">
        <Notice tone={failure ? 'refuse' : undone ? 'ask' : 'settled'}>
          {failure || undone || says}
        </Notice>
      </span>
      {undone === '' && (
        <Button size="xs" variant="outline" minH="28px" onClick={() => void undo()}>
          Undo
        </Button>
      )}
      {running !== null && <UnderwayNote workbookId={workbookId} writeId={running} />}
    </>
  );
}
