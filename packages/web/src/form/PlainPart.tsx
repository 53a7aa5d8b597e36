import { Box, Heading, Text } from '@chakra-ui/react';
import { paths } from '@varn/contract/paths';
import type { PlainBlock } from '@varn/core';
import { lazy, memo, Suspense } from 'react';
import { Notice } from '../ui/Notice';

const Words = lazy(() => import('./Words'));

const SIZES = { small: '96px', middling: '220px', large: '420px', full: '100%' } as const;
const PLACES = { start: 'start', middle: 'center', end: 'end' } as const;
const TONES = { note: 'note', good: 'settled', caution: 'ask' } as const;
/** Words without any of these are shown as they are, and need no formatting. */
const FORMATTED = /[*_`[\]#>\n-]/;

interface PlainPartProps {
  readonly block: PlainBlock;
  readonly workbookId: string;
  /** What a live message says now; absent, nothing. */
  readonly said: string | undefined;
}

/** What a form shows between its fields. */
export const PlainPart = memo(function PlainPart({ block, workbookId, said }: PlainPartProps) {
  switch (block.is) {
    case 'heading':
      return (
        <Heading as="h2" size="md" mt="2">
          {block.text}
        </Heading>
      );
    case 'note':
      return FORMATTED.test(block.text) ? (
        <Suspense fallback={<Text>{block.text.replaceAll('*', '')}</Text>}>
          <Words text={block.text} />
        </Suspense>
      ) : (
        <Text>{block.text}</Text>
      );
    case 'divider':
      return <Box as="hr" borderTopWidth="1px" borderColor="rule" my="1" />;
    case 'picture':
      return (
        <Box textAlign={PLACES[block.place ?? 'start']}>
          <img
            src={paths.file(workbookId, block.fileId)}
            alt={block.alt}
            style={{ display: 'inline', width: SIZES[block.size ?? 'middling'], maxWidth: '100%' }}
          />
        </Box>
      );
    case 'message':
      // The live region stays, so that what comes into it is read out.
      return (
        <Box role="status">
          {said !== undefined && <Notice tone={TONES[block.tone]}>{said}</Notice>}
        </Box>
      );
    case 'page':
      return null;
  }
});
