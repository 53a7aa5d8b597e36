import { Box, Button, Field, HStack, Input, Text } from '@chakra-ui/react';
import type { SecretWordsView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { quote } from '@varn/core';
import { useState } from 'react';
import useSWR from 'swr';
import { get, request, sayError } from '../../api/client';
import { Notice } from '../../ui/Notice';

interface SecretWordPartProps {
  readonly workbookId: string;
  /** The name the word is kept under; blank while it is not written. */
  readonly name: string;
}

/** Sets the word of a name: it goes to the server, and is shown to nobody again. */
export function SecretWordPart({ workbookId, name }: SecretWordPartProps) {
  const path = paths.secretWords(workbookId);
  const { data, mutate } = useSWR(path, () => get<SecretWordsView>(path));
  const [word, setWord] = useState('');
  const [told, setTold] = useState<{ tone: 'settled' | 'refuse'; says: string } | null>(null);
  if (name === '' || !data) return null;
  const isKept = data.names.includes(name);
  const put = (): void => {
    request<SecretWordsView>('PUT', path, { name, word })
      .then((names) => {
        setWord('');
        setTold({ tone: 'settled', says: `The word for ${quote(name)} is set.` });
        return mutate(names, { revalidate: false });
      })
      .catch((error: unknown) => setTold({ tone: 'refuse', says: sayError(error) }));
  };
  return (
    <Box>
      <Field.Root>
        <Field.Label>{isKept ? 'New word' : 'Word'}</Field.Label>
        <Field.HelperText mt="0">
          {isKept
            ? 'A word is set. A new one takes its place at once.'
            : 'No word is set yet, so nobody can pass.'}
        </Field.HelperText>
        <HStack w="full">
          <Input
            size="sm"
            bg="leaf"
            borderColor="edge"
            autoComplete="off"
            value={word}
            onChange={(event) => setWord(event.target.value)}
          />
          <Button size="xs" variant="outline" disabled={word.trim() === ''} onClick={put}>
            Set the word
          </Button>
        </HStack>
      </Field.Root>
      <Box role="status" mt="1">
        {told && <Notice tone={told.tone}>{told.says}</Notice>}
      </Box>
      <Text fontSize="12.5px" color="ink.soft">
        The server keeps the word and never shows it again. Capitals don’t matter.
      </Text>
    </Box>
  );
}
