import { Box, Button, Field, Input, Stack } from '@chakra-ui/react';
import { useRef, useState, type ReactNode, type SubmitEvent } from 'react';
import { newId } from '../api/newId';
import { sayError } from '../api/client';
import { PlaceBar } from '../keys/PlaceBar';
import { Notice } from '../ui/Notice';
import { Shell } from './Shell';

interface BeginFormProps {
  /** The places above this one. */
  readonly above?: readonly { label: string; to?: string }[];
  readonly title: string;
  /** What is begun, as a sentence calls it: "form". */
  readonly what: string;
  /** The word on the button. */
  readonly does: string;
  /** Says what keeps it from being begun; `null` where nothing does. */
  readonly problem?: () => string | null;
  /** Begins it, once however often it is asked for under the same write id. */
  readonly begin: (name: string, writeId: string) => Promise<void>;
  readonly children?: ReactNode;
}

/** The page on which something is given a name, and begun. */
export function BeginForm(props: BeginFormProps) {
  const { above = [], title, what, does, problem, begin, children } = props;
  const [name, setName] = useState('');
  const [failure, setFailure] = useState('');
  const writeId = useRef(newId());

  const onSubmit = async (event: SubmitEvent): Promise<void> => {
    event.preventDefault();
    const wrong = name.trim() === '' ? `The ${what} has no name yet.` : (problem?.() ?? null);
    if (wrong !== null) {
      setFailure(wrong);
      return;
    }
    try {
      await begin(name.trim(), writeId.current);
    } catch (error) {
      writeId.current = newId();
      setFailure(sayError(error));
    }
  };

  return (
    <Shell trail={[...above, { label: title }]} bar={<PlaceBar place={title} actions={[]} />}>
      <Box
        as="form"
        p={{ base: '4', md: '8' }}
        onSubmit={(event: SubmitEvent) => void onSubmit(event)}
      >
        <Stack gap="4" maxW="420px">
          <Field.Root>
            <Field.Label>{`${what[0]?.toUpperCase() ?? ''}${what.slice(1)} name`}</Field.Label>
            <Input
              enterKeyHint="go"
              autoFocus
              bg="leaf"
              borderColor="edge"
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          </Field.Root>
          {children}
          {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
          <Button type="submit" alignSelf="start">
            {does}
          </Button>
        </Stack>
      </Box>
    </Shell>
  );
}
