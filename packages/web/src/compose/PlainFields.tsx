import { Button, HStack } from '@chakra-ui/react';
import type { FileView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import type { Block, LocaleFacts, PlainBlock } from '@varn/core';
import { useState } from 'react';
import { request, sayError } from '../api/client';
import { Choice, Line, Lines } from '../ui/controls';
import { Notice } from '../ui/Notice';
import { FormulaLine } from './FormulaLine';
import type { Composing } from './useCompose';

interface PlainFieldsProps {
  readonly block: PlainBlock;
  readonly composing: Composing;
  readonly locale: LocaleFacts;
  readonly workbookId: string;
  readonly put: (to: (held: Block) => Block) => void;
}

/** The details of a block that is no field. */
export function PlainFields(props: PlainFieldsProps) {
  const { block, put } = props;
  switch (block.is) {
    case 'heading':
      return (
        <Line
          label="Words"
          value={block.text}
          onPut={(text) => put((held) => ({ ...held, text }) as Block)}
        />
      );
    case 'page':
      return (
        <Line
          label="Title"
          value={block.title}
          onPut={(title) => put((held) => ({ ...held, title }) as Block)}
        />
      );
    case 'note':
      return (
        <Lines
          label="Words"
          hint="**strong**, *stressed*, [a link](https://place.example), - lists"
          value={block.text}
          onPut={(text) => put((held) => ({ ...held, text }) as Block)}
        />
      );
    case 'message':
      return (
        <>
          <Choice
            label="Tone"
            value={block.tone}
            options={[
              ['note', 'Note'],
              ['good', 'Good'],
              ['caution', 'Caution'],
            ]}
            onChange={(tone) => put((held) => ({ ...held, tone }) as Block)}
          />
          <FormulaLine
            {...props}
            waits
            label="Text (a formula)"
            hint="Hidden while the formula gives an empty text"
            value={block.formula}
            onPut={(formula) => put((held) => ({ ...held, formula }) as Block)}
          />
        </>
      );
    case 'picture':
      return <PictureFields {...props} block={block} />;
    case 'divider':
      return null;
  }
}

function PictureFields({
  block,
  put,
  workbookId,
}: PlainFieldsProps & { readonly block: Extract<PlainBlock, { is: 'picture' }> }) {
  return (
    <>
      <PictureButton
        label="Choose another picture"
        workbookId={workbookId}
        onKept={({ id }) => put((held) => ({ ...held, fileId: id }) as Block)}
      />
      <Line
        label="Description"
        hint="For people who can’t see it"
        value={block.alt}
        onPut={(alt) => put((held) => ({ ...held, alt }) as Block)}
      />
      <HStack gap="3">
        <Choice
          label="Size"
          value={block.size ?? 'middling'}
          options={[
            ['small', 'Small'],
            ['middling', 'Medium'],
            ['large', 'Large'],
            ['full', 'As wide as the form'],
          ]}
          onChange={(size) => put((held) => ({ ...held, size }) as Block)}
        />
        <Choice
          label="Place"
          value={block.place ?? 'start'}
          options={[
            ['start', 'At the start'],
            ['middle', 'In the middle'],
            ['end', 'At the end'],
          ]}
          onChange={(place) => put((held) => ({ ...held, place }) as Block)}
        />
      </HStack>
    </>
  );
}

interface PictureButtonProps {
  readonly label: string;
  readonly workbookId: string;
  readonly onKept: (file: FileView) => void;
}

/** Takes a picture in; refuses what is none, with the reason. */
export function PictureButton({ label, workbookId, onKept }: PictureButtonProps) {
  const [failure, setFailure] = useState('');
  const take = async (file: File): Promise<void> => {
    try {
      const kept = await request<FileView>('POST', paths.files(workbookId, file.name), file);
      if (kept.shownAs === 'picture') {
        setFailure('');
        onKept(kept);
      } else setFailure(`${kept.name} is not a picture. Choose a PNG, JPEG, GIF or WebP.`);
    } catch (error) {
      setFailure(sayError(error));
    }
  };
  return (
    <>
      <Button size="xs" variant="outline" asChild>
        <label>
          {label}
          <input
            type="file"
            accept="image/*"
            className="sr-only"
            style={{ position: 'absolute', width: 1, height: 1, opacity: 0 }}
            onChange={(event) => {
              const [file] = event.target.files ?? [];
              event.target.value = '';
              if (file) void take(file);
            }}
          />
        </label>
      </Button>
      {failure !== '' && <Notice tone="refuse">{failure}</Notice>}
    </>
  );
}
