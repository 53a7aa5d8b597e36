import { Box, Button, HStack, Input, Text } from '@chakra-ui/react';
import type { FormView, KeepQuestion as Keeping, QuestionEntry } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { mayAs } from '@varn/contract/roles';
import { useState } from 'react';
import { useSWRConfig } from 'swr';
import { request, sayError } from '../api/client';
import { newId } from '../api/newId';
import { useWorkbook } from '../api/resources';
import { Tick } from '../ui/controls';
import { Notice } from '../ui/Notice';

interface KeepQuestionProps {
  readonly form: FormView;
  /** What is looked at, as the query of an address. */
  readonly address: string;
}

/** Gives a question a name, under which it stands in the contents; forgets one that is kept. */
export function KeepQuestion({ form, address }: KeepQuestionProps) {
  const { workbookId } = form.sheet;
  const { data: workbook } = useWorkbook(workbookId);
  const { mutate } = useSWRConfig();
  const [open, setOpen] = useState(false);
  const [name, setName] = useState('');
  const [isShared, setShared] = useState(false);
  const [failure, setFailure] = useState('');
  const kept = (workbook?.questions ?? []).filter(({ formId }) => formId === form.id);
  const here = kept.find((each) => each.address === address);
  const sameName = kept.find((each) => each.mayChange && each.name === name.trim());

  const attempt = async (asking: Promise<void>): Promise<void> => {
    try {
      await asking;
      await mutate(paths.workbook(workbookId));
      setFailure('');
      setOpen(false);
    } catch (error) {
      setFailure(sayError(error));
    }
  };
  const keep = (): void => {
    if (name.trim() === '') {
      setFailure('Type a name first.');
      return;
    }
    const body: Keeping = { name: name.trim(), address, isShared };
    void attempt(request('PUT', paths.question(form.id, sameName?.id ?? newId()), body));
  };
  const forget = ({ id }: QuestionEntry): void =>
    void attempt(request('DELETE', paths.question(form.id, id)));

  if (here) {
    return (
      <>
        <Text color="ink.soft">
          Kept as ‘{here.name}’{here.isShared && ', for everyone'}
        </Text>
        {here.mayChange && (
          <Button size="xs" variant="outline" minH="28px" onClick={() => forget(here)}>
            Forget ‘{here.name}’
          </Button>
        )}
        {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
      </>
    );
  }
  if (!open) {
    return (
      <Button
        size="xs"
        variant="outline"
        minH="28px"
        onClick={() => {
          setOpen(true);
          setFailure('');
        }}
      >
        Keep it
      </Button>
    );
  }
  return (
    <HStack
      as="form"
      gap="3"
      wrap="wrap"
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
      onKeyDown={(event) => {
        // Enter keeps it, and does not go on to what stands around it.
        event.stopPropagation();
        if (event.key !== 'Escape') return;
        event.preventDefault();
        setOpen(false);
      }}
    >
      <Input
        enterKeyHint="done"
        size="xs"
        minH="28px"
        w="200px"
        bg="leaf"
        borderColor="edge"
        autoFocus
        aria-label="Name of the question"
        placeholder="Name of the question"
        maxLength={200}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      {mayAs(workbook?.role ?? 'reader', 'clerk') && (
        <Box pt="1.5">
          <Tick label="For everyone in the workbook" checked={isShared} onChange={setShared} />
        </Box>
      )}
      <Button size="xs" minH="28px" type="submit">
        {sameName ? `Replace ‘${sameName.name}’` : 'Keep'}
      </Button>
      <Button size="xs" variant="outline" minH="28px" onClick={() => setOpen(false)}>
        Cancel
      </Button>
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
    </HStack>
  );
}
