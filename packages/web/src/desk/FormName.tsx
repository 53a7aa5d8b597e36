import { Editable, IconButton } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { Check, PencilLine } from 'lucide-react';
import { useState } from 'react';
import { useSWRConfig } from 'swr';
import { request, sayError } from '../api/client';
import { Notice } from '../ui/Notice';

/** The form's name, renamed in place. */
export function FormName({ form }: { form: FormView }) {
  const { mutate } = useSWRConfig();
  const [failure, setFailure] = useState('');
  const rename = async (name: string): Promise<void> => {
    if (name.trim() === '' || name === form.name) return;
    try {
      await request('PATCH', paths.form(form.id), { name, revision: form.revision });
      setFailure('');
      await mutate(paths.form(form.id));
      await mutate(paths.workbook(form.sheet.workbookId));
    } catch (error) {
      setFailure(sayError(error));
    }
  };
  return (
    <>
      <Editable.Root
        defaultValue={form.name}
        onValueCommit={({ value }) => void rename(value)}
        activationMode="dblclick"
        w="auto"
        size="sm"
        maxLength={200}
      >
        <Editable.Preview color="ink.soft" />
        <Editable.Input aria-label="Name of the form" bg="leaf" />
        <Editable.Control>
          <Editable.EditTrigger asChild>
            <IconButton variant="ghost" size="xs" aria-label={`Rename the form ${form.name}`}>
              <PencilLine size={14} />
            </IconButton>
          </Editable.EditTrigger>
          <Editable.SubmitTrigger asChild>
            <IconButton variant="outline" size="xs" aria-label="Keep the name">
              <Check size={14} />
            </IconButton>
          </Editable.SubmitTrigger>
        </Editable.Control>
      </Editable.Root>
      {failure && <Notice tone="refuse">{failure}</Notice>}
    </>
  );
}
