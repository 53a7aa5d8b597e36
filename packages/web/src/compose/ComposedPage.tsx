import { Box } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import type { Block } from '@varn/core';
import { useEffect, useMemo, type ReactNode } from 'react';
import { FormBody } from '../form/FormBody';
import { useFilling } from '../form/useFilling';
import { AddLine } from './AddLine';
import { newId } from '../api/newId';
import { BlockFrame, type FrameActions } from './BlockFrame';
import { PictureButton } from './PlainFields';
import { putIn, setBeside, step, takeOff } from './edits';
import { focusAddLine, focusFrameOf, showFrameOf } from './focus';
import type { Composing } from './useCompose';

interface ComposedPageProps {
  readonly form: FormView;
  readonly composing: Composing;
  readonly chosen: string | null;
  readonly addAfter: string | null;
  readonly onChoose: (blockId: string | null) => void;
  readonly onAddAfter: (blockId: string | null) => void;
}

/** The form as its users will see it, each block in a frame, with the empty line at its end. */
export function ComposedPage(props: ComposedPageProps) {
  const { form, composing, chosen, addAfter, onChoose, onAddAfter } = props;
  const { edit, inSheet } = composing;
  const state = useFilling(form, { draft: true });
  const { columns } = state.prepared;
  useEffect(() => focusAddLine('end'), []);
  const actions = useMemo<FrameActions>(
    () => ({
      onChoose,
      onAddAfter,
      onStep: (id, by) => {
        edit((layout) => step(layout, id, by));
        focusFrameOf(id);
      },
      onBeside: (id, isBeside) => {
        edit((layout) => setBeside(layout, id, isBeside));
        focusFrameOf(id);
      },
      onTakeOff: (id) => {
        edit((layout) => takeOff(layout, id, inSheet));
        onChoose(null);
        focusAddLine('end');
      },
    }),
    [edit, inSheet, onChoose, onAddAfter],
  );
  const wrap = (block: Block, part: ReactNode): ReactNode => (
    <>
      <BlockFrame
        block={block}
        columns={columns}
        isChosen={block.id === chosen}
        part={part}
        {...actions}
      />
      {addAfter === block.id && (
        <AddLine
          composing={composing}
          spot={{ blockId: block.id, side: 'after' }}
          autoFocus
          onAdded={(id) => {
            onAddAfter(null);
            focusFrameOf(id);
          }}
          onClose={() => {
            onAddAfter(null);
            focusFrameOf(block.id);
          }}
        />
      )}
    </>
  );
  return (
    <Box p="4" hideBelow="md">
      <FormBody form={form} state={state} readOnly onEnterColumn={nothing} wrap={wrap} whole />
      <Box maxW="1040px" mx="auto">
        <AddLine composing={composing} spot={{ blockId: null, side: 'after' }} onAdded={nothing} />
        <PictureButton
          label="Add a picture"
          workbookId={form.sheet.workbookId}
          onKept={({ id: fileId }) => {
            const id = newId();
            const picture = { is: 'picture', id, fileId, alt: '' } as const;
            edit((layout) => putIn(layout, [picture], { blockId: null, side: 'after' }));
            onChoose(id);
            showFrameOf(id);
          }}
        />
      </Box>
    </Box>
  );
}

const nothing = (): void => undefined;
