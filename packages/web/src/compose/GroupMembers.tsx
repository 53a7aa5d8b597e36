import { Box, Button, HStack, Input, Stack, Text } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import {
  columnIdsOf,
  KINDS,
  kindOf,
  memberHeading,
  type GroupBlock,
  type KindId,
  type LocaleFacts,
} from '@varn/core';
import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import { Choice, Line, Tick } from '../ui/controls';
import { newId } from '../api/newId';
import { ChoiceFields } from './ChoiceFields';
import {
  addMember,
  change,
  changeMembers,
  dropMember,
  renameMember,
  set,
  storeTogether,
} from './edits';
import { RenameColumn } from './RenameColumn';
import { StoredChoice } from './StoredChoice';
import type { Composing } from './useCompose';

const NAMES = { statements: 'Statement', boxes: 'Choice', repeated: 'Field' } as const;

const TYPED_KINDS = Object.values(KINDS)
  .filter(({ filledBy }) => filledBy === 'people')
  .map(({ id, label }) => [id, label] as const);

interface GroupMembersProps {
  readonly block: GroupBlock;
  readonly composing: Composing;
  readonly locale: LocaleFacts;
  readonly sheet: SheetView;
  readonly onRenamed: () => void;
}

/** The columns that stand together in one block: named, added and taken away, and what all hold. */
export function GroupMembers({ block, composing, locale, sheet, onRenamed }: GroupMembersProps) {
  const { edit, columns, inSheet } = composing;
  const isPlanned = columnIdsOf(block).every((id) => !inSheet.has(id));
  const [label, setLabel] = useState('');
  const byId = new Map(columns.map((column) => [column.id, column]));
  const like = block.members.flatMap(({ columnId }) => byId.get(columnId) ?? [])[0];
  const name = NAMES[block.as];
  const add = (): void => {
    const text = label.trim();
    if (text === '' || !like) return;
    const ids = { member: newId(), column: newId() };
    edit((layout) => addMember(layout, block, text, like, ids));
    setLabel('');
  };
  return (
    <Stack gap="1">
      <Text fontWeight="600">Columns</Text>
      {block.members.map((member, n) => {
        const heading = byId.get(member.columnId)?.heading ?? 'gone';
        const shown = member.label ?? heading;
        const column = byId.get(member.columnId);
        const usual = memberHeading(block.label, block.as, shown);
        return (
          <Box key={member.id}>
            <HStack align="end" gap="1">
              <Box flex="1">
                <Line
                  label={`${name} ${n + 1}`}
                  value={shown}
                  onPut={(text) =>
                    text.trim() !== '' &&
                    edit((layout) => renameMember(layout, block, member.id, text.trim()))
                  }
                />
              </Box>
              <Button
                size="xs"
                variant="ghost"
                aria-label={`Take ${shown} away`}
                disabled={block.members.length === 1}
                onClick={() => edit((layout) => dropMember(layout, block, member.id, inSheet))}
              >
                <X size={14} aria-hidden />
              </Button>
            </HStack>
            {column &&
              inSheet.has(column.id) &&
              member.label !== undefined &&
              usual !== heading && (
                <RenameColumn {...{ sheet, column, onRenamed }} heading={usual} />
              )}
          </Box>
        );
      })}
      <HStack gap="1">
        <Input
          size="sm"
          bg="leaf"
          borderColor="edge"
          aria-label={`Another ${name.toLowerCase()}`}
          placeholder={`Another ${name.toLowerCase()}`}
          value={label}
          onChange={(event) => setLabel(event.target.value)}
          onKeyDown={(event) => event.key === 'Enter' && add()}
        />
        <Button size="xs" variant="outline" onClick={add} aria-label="Add it">
          <Plus size={14} aria-hidden />
        </Button>
      </HStack>
      <Text fontSize="12.5px" color="ink.soft">
        Each is its own column. If you remove one, its column and data stay in the sheet.
      </Text>
      {block.as === 'boxes' && isPlanned && (
        <StoredChoice
          value="apart"
          onOther={() => edit((layout) => storeTogether(layout, block, newId))}
        />
      )}
      {block.as === 'repeated' && (
        <Tick
          label="All different: no answer stands in two of them"
          checked={block.different ?? false}
          onChange={(checked) =>
            edit((layout) =>
              change(layout, block.id, (held) =>
                held.is === 'group' ? set(held, 'different', checked || undefined) : held,
              ),
            )
          }
        />
      )}
      {block.as === 'repeated' && isPlanned && like && (
        <Choice
          label="Kind"
          value={like.kind}
          options={TYPED_KINDS}
          onChange={(kind) =>
            edit((layout) =>
              changeMembers(layout, block, columns, (column) => ({
                ...column,
                kind: kind as KindId,
                settings: {},
              })),
            )
          }
        />
      )}
      {like && kindOf(like).typing === 'choice' && (
        <ChoiceFields
          column={like}
          columns={columns}
          locale={locale}
          sheet={sheet}
          isInSheet={inSheet.has(like.id)}
          put={({ settings }) =>
            edit((layout) =>
              changeMembers(layout, block, columns, (column) => ({ ...column, settings })),
            )
          }
        />
      )}
    </Stack>
  );
}
