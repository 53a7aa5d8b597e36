import { Box, Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { DraftView } from '@varn/contract';
import {
  compareForms,
  labelOfBlock,
  sayBlockDifference,
  sayFormDifference,
  type ColumnsById,
} from '@varn/core';
import { useState } from 'react';
import { Notice } from '../ui/Notice';
import type { Layout } from './edits';
import { sayColumnDifferences } from './layoutDifferences';

interface ContestedDraftProps {
  readonly layout: Layout;
  readonly columns: ColumnsById;
  readonly readTheirs: () => Promise<DraftView>;
  /** Goes on with mine over theirs, which was looked at. */
  readonly onMine: (theirs: DraftView) => void;
  readonly onTheirs: () => void;
  readonly onCopy: () => void;
  readonly onFailure: (error: unknown) => void;
}

/** Someone else changed the form while it was laid out here: nothing is lost, and one decides. */
export function ContestedDraft(props: ContestedDraftProps) {
  const { layout, columns, readTheirs, onMine, onTheirs, onCopy, onFailure } = props;
  const [theirs, setTheirs] = useState<DraftView | null>(null);
  return (
    <Stack role="group" aria-label="Someone else changed this form" gap="1" px="5" pt="2">
      <HStack gap="3" wrap="wrap">
        <Notice tone="ask">Someone else changed this form. Your version is not saved yet.</Notice>
        {theirs ? (
          <Button size="xs" onClick={() => onMine(theirs)}>
            Keep editing mine
          </Button>
        ) : (
          <Button size="xs" onClick={() => void readTheirs().then(setTheirs, onFailure)}>
            See what differs
          </Button>
        )}
        <Button size="xs" variant="outline" onClick={onCopy}>
          Keep mine as a copy
        </Button>
        <Button size="xs" variant="outline" onClick={onTheirs}>
          Take theirs
        </Button>
      </HStack>
      {theirs && <Differences mine={layout} theirs={theirs} columns={columns} />}
    </Stack>
  );
}

interface DifferencesProps {
  readonly mine: Layout;
  readonly theirs: DraftView;
  readonly columns: ColumnsById;
}

function Differences({ mine, theirs, columns }: DifferencesProps) {
  const { blocks, parts } = compareForms(mine.definition, theirs.form.definition);
  const all = new Map([
    ...theirs.form.sheet.columns.map((each) => [each.id, each] as const),
    ...columns,
  ]);
  const lines = [
    ...blocks.map((each) => sayBlockDifference(each, labelOfBlock(each.block, all))),
    ...parts.map(sayFormDifference),
    ...sayColumnDifferences(mine, theirs),
  ];
  if (lines.length === 0) return <Text color="ink.soft">Both are now the same.</Text>;
  return (
    <Box as="ul" ps="6" listStyleType="disc" maxH="24dvh" overflow="auto" aria-label="What differs">
      {lines.map((line) => (
        <li key={line}>{line}</li>
      ))}
    </Box>
  );
}
