import { Box, Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { DraftView } from '@varn/contract';
import {
  isEntry,
  KINDS,
  labelOfBlock,
  messageWithHeadings,
  messageWithIds,
  type AfterSubmit,
  type Entering,
  type FormDefinition,
  type FormLook,
} from '@varn/core';
import { Choice, Line, Tick } from '../ui/controls';
import { Margin } from '../ui/Margin';
import { changeColumn, set } from './edits';
import { FeedAll } from './FeedAll';
import { checkHeading } from './settingChecks';
import type { Composing } from './useCompose';

interface FormMarginProps {
  readonly draft: DraftView;
  readonly composing: Composing;
  readonly name: string;
  readonly onRename: (name: string) => void;
  readonly onClose: () => void;
  readonly onBringBack: (version: number) => void;
  readonly onDrop: () => void;
  readonly onRemove: () => void;
}

/** What is said of the form as a whole: its look, how it is filled in, what comes after. */
export function FormMargin(props: FormMarginProps) {
  const { draft, composing, name, onRename, onClose, onBringBack, onDrop, onRemove } = props;
  const { definition } = composing.layout;
  const { look = {}, entering = {}, after = {} } = definition;
  const columns = new Map(composing.columns.map((column) => [column.id, column]));
  const put = <K extends 'look' | 'entering' | 'after'>(
    name: K,
    value: NonNullable<FormDefinition[K]>,
  ): void =>
    composing.edit((layout) => ({
      ...layout,
      definition: set(layout.definition, name, Object.keys(value).length > 0 ? value : undefined),
    }));
  const putLook = (name: keyof FormLook, value: string): void =>
    put('look', set(look, name, value as never));
  const putEntering = (name: keyof Entering, value: string): void =>
    put('entering', set(entering, name, value as never));
  const putAfter = <K extends keyof AfterSubmit>(name: K, value: AfterSubmit[K] | ''): void =>
    put('after', set(after, name, value));
  const keep = Array.isArray(after.keep) ? (after.keep as readonly string[]) : [];
  return (
    <Margin title="The form" onClose={onClose}>
      <Stack gap="3">
        <Line
          label="Name"
          value={name}
          onPut={(text) => text.trim() !== '' && onRename(text.trim())}
        />
        <HStack gap="3" wrap="wrap" align="end">
          <Choice
            label="Accent"
            value={look.accent ?? ''}
            options={[
              ['', 'None'],
              ['brass', 'Brass'],
              ['slate', 'Slate'],
              ['pine', 'Pine'],
              ['madder', 'Madder'],
            ]}
            onChange={(value) => putLook('accent', value)}
          />
          <Choice
            label="Density"
            value={look.density ?? ''}
            options={[
              ['dense', 'Dense'],
              ['', 'Usual'],
              ['roomy', 'Roomy'],
            ]}
            onChange={(value) => putLook('density', value)}
          />
          <Choice
            label="Width"
            value={look.width ?? ''}
            options={[
              ['narrow', 'Narrow'],
              ['', 'Usual'],
              ['wide', 'As wide as there is room'],
            ]}
            onChange={(value) => putLook('width', value)}
          />
          <Choice
            label="Labels"
            value={look.labels ?? ''}
            options={[
              ['', 'Above'],
              ['beside', 'Beside'],
            ]}
            onChange={(value) => putLook('labels', value)}
          />
          <Choice
            label="Fields added by lines"
            value={look.rows ?? ''}
            options={[
              ['', 'Side by side where they fit'],
              ['single', 'One a row'],
            ]}
            onChange={(value) => putLook('rows', value)}
          />
        </HStack>
        <FeedAll composing={composing} sheet={draft.form.sheet} />
        <Choice
          label="Enter"
          value={entering.enter ?? ''}
          options={[
            ['', 'Goes on to the next field'],
            ['submits', 'Submits'],
          ]}
          onChange={(value) => putEntering('enter', value)}
        />
        <Choice
          label="Submit pressed early"
          value={entering.early ?? ''}
          options={[
            ['', 'Goes to what is missing'],
            ['heldBack', 'Is refused, with the reason'],
          ]}
          onChange={(value) => putEntering('early', value)}
        />
        <Choice
          label="Opens on"
          value={entering.opensOn ?? ''}
          options={[
            ['', 'A new record'],
            ['last', 'The last record'],
          ]}
          onChange={(value) => putEntering('opensOn', value)}
        />
        <Choice
          label="New records land"
          value={entering.lands ?? ''}
          options={[
            ['', 'Under the last one'],
            ['top', 'On top, under the heading'],
          ]}
          onChange={(value) => putEntering('lands', value)}
        />
        <Line
          label="Message after a submit"
          hint="{Heading} gives an answer"
          value={messageWithHeadings(after.message ?? '', columns)}
          onPut={(text) => putAfter('message', messageWithIds(text, columns))}
        />
        <Choice
          label="After a submit"
          value={after.then ?? ''}
          options={[
            ['', 'Stays for the next record'],
            ['record', 'Goes to the stored record'],
            ['close', 'Closes'],
          ]}
          onChange={(value) => putAfter('then', value as NonNullable<AfterSubmit['then']> | '')}
        />
        <Choice
          label="Kept for the next record"
          value={after.keep === 'all' ? 'all' : keep.length > 0 ? 'some' : ''}
          options={[
            ['', 'Nothing'],
            ['some', 'Some fields'],
            ['all', 'All'],
          ]}
          onChange={(value) => {
            const first = definition.blocks.find(isEntry);
            if (value === 'all') putAfter('keep', 'all');
            else if (value === 'some' && first) putAfter('keep', [first.id]);
            else putAfter('keep', '');
          }}
        />
        {keep.length > 0 && (
          <Box ps="2">
            {definition.blocks.filter(isEntry).map((block) => (
              <Tick
                key={block.id}
                label={labelOfBlock(block, columns)}
                checked={keep.includes(block.id)}
                onChange={(checked) => {
                  const next = checked
                    ? [...keep, block.id]
                    : keep.filter((each) => each !== block.id);
                  putAfter('keep', next.length > 0 ? next : '');
                }}
              />
            ))}
          </Box>
        )}
        <ComingColumns composing={composing} />
        <Versions draft={draft} onBringBack={onBringBack} onDrop={onDrop} />
        <Box>
          <Button size="xs" variant="outline" color="madder" onClick={onRemove}>
            Delete the form
          </Button>
          <Text mt="1" fontSize="12.5px" color="ink.soft">
            It can be put back from the workbook’s contents. Records stay where they are.
          </Text>
        </Box>
      </Stack>
    </Margin>
  );
}

/** The headings of the columns that come with the form, in one list. */
function ComingColumns({ composing }: { readonly composing: Composing }) {
  const coming = composing.layout.columns.filter(({ id }) => !composing.inSheet.has(id));
  if (coming.length === 0) return null;
  return (
    <Box>
      <Text fontWeight="600" mb="1">
        Columns that come with it
      </Text>
      <Stack gap="1">
        {coming.map((column) => (
          <Line
            key={column.id}
            label={KINDS[column.kind].label}
            value={column.heading}
            check={checkHeading}
            onPut={(heading) =>
              composing.edit((layout) =>
                changeColumn(layout, { ...column, heading: heading.trim() }),
              )
            }
          />
        ))}
      </Stack>
    </Box>
  );
}

function Versions({
  draft,
  onBringBack,
  onDrop,
}: Pick<FormMarginProps, 'draft' | 'onBringBack' | 'onDrop'>) {
  const { versions, form } = draft;
  if (versions.length === 0) return null;
  const format = new Intl.DateTimeFormat(form.locale, {
    dateStyle: 'medium',
    timeStyle: 'short',
    timeZone: form.timeZone,
  });
  return (
    <Box>
      <Text fontWeight="600" mb="1">
        Versions
      </Text>
      <Stack as="ol" gap="2" listStyleType="none">
        {versions.map(({ version, by, at, fields }) => (
          <Box as="li" key={version} fontSize="12.5px">
            Version {version}, {fields} fields. {by}, {format.format(at)}
            {version === form.version ? (
              <Text color="pine">In use</Text>
            ) : (
              <Box>
                <Button size="2xs" variant="outline" onClick={() => onBringBack(version)}>
                  Bring version {version} back
                </Button>
              </Box>
            )}
          </Box>
        ))}
      </Stack>
      {draft.changed && form.version > 0 && (
        <Button mt="3" size="xs" variant="outline" onClick={onDrop}>
          Discard the draft
        </Button>
      )}
    </Box>
  );
}
