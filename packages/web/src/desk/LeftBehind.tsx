import { Box, Button, HStack, Stack, Text } from '@chakra-ui/react';
import { useState } from 'react';
import type { FormFilling } from '../form/useFilling';
import { Notice } from '../ui/Notice';

/** What was typed into a field that is not in the form any more: shown until it was seen. */
export function LeftBehind({ filled }: { readonly filled: FormFilling }) {
  const { leftBehind, dropLeftBehind } = filled;
  if (leftBehind.length === 0) return null;
  return (
    <Box mb="3" role="alert" data-left-behind>
      <Notice tone="ask">
        {leftBehind.length === 1
          ? 'A field you filled in was taken out of this form. Copy what you typed, or leave it out; then submit.'
          : 'Fields you filled in were taken out of this form. Copy what you typed, or leave it out; then submit.'}
      </Notice>
      <Stack as="ul" listStyleType="none" gap="1" mt="2" ms="6">
        {leftBehind.map(({ inputId, label, text }) => (
          <HStack as="li" key={inputId} gap="2" wrap="wrap">
            <Text fontWeight="600">{label}</Text>
            <Text fontFamily="mono" overflowWrap="anywhere" whiteSpace="pre-wrap">
              {text}
            </Text>
            <CopyButton label={label} text={text} />
            <Button
              size="xs"
              variant="outline"
              aria-label={`Leave out ${label}`}
              onClick={() => dropLeftBehind(inputId)}
            >
              Leave it out
            </Button>
          </HStack>
        ))}
      </Stack>
    </Box>
  );
}

function CopyButton({ label, text }: { readonly label: string; readonly text: string }) {
  const [said, setSaid] = useState('Copy');
  const copy = async (): Promise<void> => {
    try {
      await navigator.clipboard.writeText(text);
      setSaid('Copied');
    } catch {
      setSaid('Mark it and press Ctrl+C');
    }
  };
  return (
    <Button size="xs" variant="outline" aria-label={`${said} ${label}`} onClick={() => void copy()}>
      {said}
    </Button>
  );
}
