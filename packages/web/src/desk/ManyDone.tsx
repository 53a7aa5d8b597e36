import { Button } from '@chakra-ui/react';
import type { Written } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { useState } from 'react';
import { useSWRConfig } from 'swr';
import { request, sayError } from '../api/client';
import { readAnew } from '../api/events';
import { newId } from '../api/newId';
import { Notice } from '../ui/Notice';

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
  const undo = async (): Promise<void> => {
    try {
      const body = { writeId: newId(), undoes: writeId };
      await request<Written>('POST', paths.undo(workbookId), body);
      readAnew(mutate, paths.workbook(workbookId), '/api/sheets/', '/api/forms/');
      onUndone();
    } catch (error) {
      setFailure(sayError(error));
    }
  };
  return (
    <>
      <span role="status">
        <Notice tone={failure ? 'refuse' : 'settled'}>{failure || says}</Notice>
      </span>
      <Button size="xs" variant="outline" minH="28px" onClick={() => void undo()}>
        Undo
      </Button>
    </>
  );
}
