import { Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import {
  columnIdsOf,
  isEntry,
  isTyped,
  type Block,
  type Column,
  type FieldBlock,
  type GroupBlock,
  type LocaleFacts,
} from '@varn/core';
import { Choice, Line, Tick } from '../ui/controls';
import { RulesPart } from '../sheet/rules/RulesPart';
import { Margin } from '../ui/Margin';
import { Notice } from '../ui/Notice';
import { ColumnDetails } from './ColumnDetails';
import { ControlFields } from './ControlFields';
import { change, set, setBeside, takeOff } from './edits';
import { FormulaLine } from './FormulaLine';
import { GroupMembers } from './GroupMembers';
import { PlainFields } from './PlainFields';
import { StartFields } from './StartFields';
import type { Composing } from './useCompose';

interface BlockMarginProps {
  readonly block: Block;
  readonly composing: Composing;
  readonly locale: LocaleFacts;
  readonly workbookId: string;
  /** The sheet as the form will leave it. */
  readonly sheet: SheetView;
  readonly onConverted: () => void;
  /** Names of other forms that write a column, by column id. */
  readonly writtenBy: Readonly<Record<string, readonly string[]>>;
  readonly onClose: () => void;
  readonly onTakenOff: () => void;
}

const TITLES: Readonly<Record<Block['is'], string>> = {
  field: 'Field',
  group: 'Fields',
  heading: 'Heading',
  note: 'Note',
  picture: 'Picture',
  message: 'Live message',
  divider: 'Divider',
  page: 'Page',
};

/** The details of the chosen block. */
export function BlockMargin(props: BlockMarginProps) {
  const { block, composing, onClose, onTakenOff } = props;
  const put = (to: (held: Block) => Block): void =>
    composing.edit((layout) => change(layout, block.id, to));
  return (
    <Margin title={TITLES[block.is]} onClose={onClose}>
      <Stack gap="3">
        {isEntry(block) ? (
          <EntryFields {...props} block={block} />
        ) : (
          <PlainFields {...props} block={block} put={put} />
        )}
        <FormulaLine
          {...props}
          waits
          label="Shown when"
          hint={
            block.is === 'heading'
              ? 'A formula; holds for all under the heading'
              : block.is === 'page'
                ? 'A formula; holds for all of the page'
                : 'A formula over the answers'
          }
          value={block.shownWhen ?? ''}
          onPut={(formula) => put((held) => set(held, 'shownWhen', formula))}
        />
        <HStack gap="2" wrap="wrap">
          <Button
            size="xs"
            variant="outline"
            color="madder"
            onClick={() => {
              composing.edit((layout) => takeOff(layout, block.id, composing.inSheet));
              onTakenOff();
            }}
          >
            Remove from the form
          </Button>
        </HStack>
        {isEntry(block) && columnIdsOf(block).some((id) => composing.inSheet.has(id)) && (
          <Text fontSize="12.5px" color="ink.soft">
            The column and its data stay in the sheet.
          </Text>
        )}
      </Stack>
    </Margin>
  );
}

function EntryFields(props: BlockMarginProps & { block: FieldBlock | GroupBlock }) {
  const { block, composing, locale } = props;
  const [column] = columnIdsOf(block).flatMap(
    (id) => composing.columns.find((each) => each.id === id) ?? [],
  );
  const put = (to: (held: FieldBlock | GroupBlock) => Block): void =>
    composing.edit((layout) =>
      change(layout, block.id, (held) => (isEntry(held) ? to(held) : held)),
    );
  if (!column) return <Notice tone="refuse">This field’s column is no longer in the sheet.</Notice>;
  const at = composing.layout.definition.blocks.findIndex(({ id }) => id === block.id);
  return (
    <>
      <Line
        label="Label"
        value={block.label ?? column.heading}
        onPut={(text) => put((held) => labelled(held, column, text))}
      />
      {block.is === 'field' ? (
        <ColumnDetails {...props} block={block} column={column} />
      ) : (
        <GroupMembers
          block={block}
          composing={composing}
          locale={locale}
          sheet={props.sheet}
          onRenamed={props.onConverted}
        />
      )}
      <Line
        label="Hint"
        value={block.hint ?? ''}
        onPut={(text) => put((held) => set(held, 'hint', text))}
      />
      {isTyped(column) && (
        <>
          <ControlFields {...props} block={block} column={column} put={put} />
          {column.kind !== 'file' && (
            <RulesPart
              sheet={props.sheet}
              column={column}
              rules={block.rules ?? []}
              inherited={column.settings.rules ?? []}
              isStored={composing.inSheet.has(column.id)}
              locale={locale}
              onPut={(rules) =>
                put((held) => set(held, 'rules', rules.length > 0 ? rules : undefined))
              }
            />
          )}
          <Tick
            label="An answer is required"
            checked={block.required ?? false}
            onChange={(checked) => put((held) => set(held, 'required', checked || undefined))}
          />
          {!block.required && (
            <FormulaLine
              {...props}
              waits
              label="Required when"
              value={block.requiredWhen ?? ''}
              onPut={(formula) => put((held) => set(held, 'requiredWhen', formula))}
            />
          )}
          <Line
            label="Message when it is missing or can’t be read"
            value={block.says ?? ''}
            onPut={(text) => put((held) => set(held, 'says', text.trim() || undefined))}
          />
          <StartFields composing={composing} block={block} column={column} put={put} />
          <Tick
            label="Read only"
            checked={block.readOnly ?? false}
            onChange={(checked) => put((held) => set(held, 'readOnly', checked || undefined))}
          />
        </>
      )}
      <HStack gap="3" align="end">
        <Choice
          label="Width"
          value={block.width === undefined ? '' : String(block.width)}
          options={[
            ['', 'Automatic'],
            ...Array.from({ length: 11 }, (_, n) => {
              const parts = String(n + 2);
              return [parts, `${parts} of 12`] as const;
            }),
          ]}
          onChange={(value) =>
            put((held) => set(held, 'width', value === '' ? undefined : Number(value)))
          }
        />
        {at > 0 && (
          <Tick
            label="On the row before"
            checked={block.beside ?? false}
            onChange={(checked) => composing.edit((layout) => setBeside(layout, block.id, checked))}
          />
        )}
      </HStack>
    </>
  );
}

function labelled(
  held: FieldBlock | GroupBlock,
  column: Column<string>,
  text: string,
): FieldBlock | GroupBlock {
  if (held.is === 'group') return { ...held, label: text.trim() || held.label };
  return set(held, 'label', text.trim() === column.heading ? '' : text.trim());
}
