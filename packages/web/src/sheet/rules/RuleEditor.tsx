import { Box, Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import {
  readRule,
  sayRule,
  standsAlone,
  unreadPart,
  type Column,
  type LocaleFacts,
  type Rule,
  type RuleWords,
  type Strictness,
} from '@varn/core';
import { useState } from 'react';
import { Choice, Line, Lines, PutAtOnce, Tick } from '../../ui/controls';
import { Broken } from './Broken';
import { Clashes } from './Clashes';
import { MadeUp } from './MadeUp';
import {
  blankDraft,
  blankTest,
  draftOf,
  readDraft,
  saysUnread,
  type ReadDraft,
  type RuleDraft,
} from './ruleDraft';
import { TestPart } from './TestPart';
import { TryValue } from './TryValue';
import { useBroken } from './useBroken';
import { WhenPart } from './WhenPart';

interface RuleEditorProps {
  readonly sheet: SheetView;
  readonly column: Column;
  readonly words: RuleWords;
  readonly locale: LocaleFacts;
  /** The serial of now in the workbook's zone. */
  readonly now: number;
  /** The column's other rules. */
  readonly others: readonly Rule[];
  /** The rule that is changed; nothing for a new one. */
  readonly rule?: Rule | undefined;
  readonly isStored: boolean;
  /** Of a field, rules are about one answer: that of doubles is the column’s. */
  readonly isOfField: boolean;
  readonly onPut: (rule: Rule) => void;
  readonly onLeave: () => void;
}

const OTHERWISE: readonly (readonly [Strictness, string])[] = [
  ['refuse', 'Refuse it'],
  ['ask', 'Ask whether it is meant'],
  ['note', 'Accept it with a note'],
];

/** What is being written: parts that are chosen, or a sentence. */
type Writing =
  | { readonly as: 'parts'; readonly draft: RuleDraft }
  | { readonly as: 'sentence'; readonly text: string };

/** A rule being written: said as a sentence, tried on a value, and on what is stored. */
export function RuleEditor(props: RuleEditorProps) {
  const { sheet, column, words, locale, now, others, rule, onPut, onLeave } = props;
  const { isStored, isOfField } = props;
  const [writing, setWriting] = useState<Writing>(() => beginning(rule, column, words));
  const read =
    writing.as === 'parts'
      ? readDraft(writing.draft, { column, columns: sheet.columns, locale, now })
      : readSentence(writing.text, { sheet, column, locale, isOfField });
  const change = (): void => {
    if (writing.as === 'parts') {
      setWriting({ as: 'sentence', text: read.ok ? sayRule(read.rule, words) : '' });
      return;
    }
    const draft = read.ok ? draftOf(read.rule, column, sheet.columns, locale) : blankDraft(column);
    if (draft) setWriting({ as: 'parts', draft });
  };
  // Only the server knows the word.
  const isSecretRule = read.ok && read.rule.must.is === 'secretWord';
  const isBeyondParts =
    writing.as === 'sentence' &&
    read.ok &&
    draftOf(read.rule, column, sheet.columns, locale) === null;
  return (
    <PutAtOnce value={true}>
      <Stack
        gap="3"
        borderWidth="1px"
        borderColor="brass"
        borderRadius="4px"
        p="3"
        role="group"
        aria-label={rule ? 'The rule' : 'A new rule'}
      >
        {writing.as === 'parts' ? (
          <Parts
            {...{ sheet, column, isOfField }}
            draft={writing.draft}
            onChange={(draft) => setWriting({ as: 'parts', draft })}
          />
        ) : (
          <Lines
            label="The rule as a sentence"
            hint="be from 0 to 14; otherwise ask and say ‘Rinse the meter.’"
            rows={4}
            value={writing.text}
            onPut={(text) => setWriting({ as: 'sentence', text })}
          />
        )}
        <Button
          size="2xs"
          variant="outline"
          alignSelf="start"
          disabled={isBeyondParts}
          onClick={change}
        >
          {writing.as === 'parts' ? 'Write it as a sentence' : 'Choose its parts'}
        </Button>
        <Box role="status" fontSize="13px">
          {read.ok ? (
            <Text fontWeight="600" overflowWrap="anywhere">
              {sayRule(read.rule, words)}
            </Text>
          ) : (
            <Text color="ink.soft">{read.says}</Text>
          )}
        </Box>
        {read.ok && (
          <>
            <Clashes {...{ words, now }} rules={[...others, read.rule]} of={others.length} />
            <MadeUp rule={read.rule} {...{ column, locale, now }} />
            {!isSecretRule && <TryValue rules={[read.rule]} {...{ column, locale, now, sheet }} />}
            {isStored && !isSecretRule && <Stored {...{ sheet, column }} rule={read.rule} />}
          </>
        )}
        <HStack>
          <Button size="xs" disabled={!read.ok} onClick={() => read.ok && onPut(read.rule)}>
            {rule ? 'Save the rule' : 'Add the rule'}
          </Button>
          <Button size="xs" variant="outline" onClick={onLeave}>
            Cancel
          </Button>
        </HStack>
      </Stack>
    </PutAtOnce>
  );
}

function beginning(rule: Rule | undefined, column: Column, words: RuleWords): Writing {
  if (!rule) return { as: 'parts', draft: blankDraft(column) };
  const draft = draftOf(rule, column, [...(words.columns?.values() ?? [])], words.locale);
  return draft ? { as: 'parts', draft } : { as: 'sentence', text: sayRule(rule, words) };
}

function readSentence(
  text: string,
  {
    sheet: { columns },
    column,
    locale,
    isOfField,
  }: Pick<RuleEditorProps, 'sheet' | 'column' | 'locale' | 'isOfField'>,
): ReadDraft {
  const read = readRule(text, { column, columns, locale });
  if (!read.ok) return { ok: false, says: saysUnread(text, read.at) };
  if (isOfField && read.rule.must.is === 'unique') {
    return {
      ok: false,
      says: 'Set this in the details of the column. It then applies everywhere.',
    };
  }
  const unread = unreadPart(read.rule);
  if (!unread) return read;
  return { ok: false, says: `The ${unread.part} can’t be read: ${unread.why}.` };
}

interface PartsProps extends Pick<RuleEditorProps, 'sheet' | 'column' | 'isOfField'> {
  readonly draft: RuleDraft;
  readonly onChange: (draft: RuleDraft) => void;
}

/** A rule as parts to choose and fill in. */
function Parts({ sheet, column, isOfField, draft, onChange }: PartsProps) {
  const { tests, joint } = draft;
  const set = (change: Partial<RuleDraft>): void => onChange({ ...draft, ...change });
  const isAlone = tests.some(standsAlone);
  return (
    <>
      {tests.map((test, at) => (
        <TestPart
          key={at}
          {...{ sheet, column }}
          label={at === 0 ? `${column.heading} must` : joint === 'all' ? 'And must' : 'Or must'}
          draft={test}
          onChange={(next) => set({ tests: tests.with(at, next) })}
          isOfField={isOfField}
          isOneOfSeveral={tests.length > 1}
          onRemove={tests.length > 1 ? () => set({ tests: tests.toSpliced(at, 1) }) : undefined}
        />
      ))}
      {tests.length > 1 && (
        <Choice
          label="Of these"
          value={joint}
          options={[
            ['all', 'All must hold'],
            ['any', 'One is enough'],
          ]}
          onChange={(next) => set({ joint: next as RuleDraft['joint'] })}
        />
      )}
      {!isAlone && tests.length < MOST_PARTS && (
        <Button
          size="2xs"
          variant="outline"
          alignSelf="start"
          onClick={() => set({ tests: [...tests, blankTest(column)] })}
        >
          Add a condition
        </Button>
      )}
      {!isAlone && (
        <>
          <WhenPart {...{ sheet, column }} when={draft.when} onChange={(when) => set({ when })} />
          <Choice
            label="Otherwise"
            value={draft.strictness}
            options={OTHERWISE}
            onChange={(strictness) => set({ strictness: strictness as Strictness })}
          />
          {!isOfField && (
            <Tick
              label="Also for values stored before, at any change of their record"
              checked={draft.always}
              onChange={(always) => set({ always })}
            />
          )}
        </>
      )}
      <Line
        label="Say instead"
        hint="A message of your own; {value} stands for what was typed"
        value={draft.message}
        onPut={(message) => set({ message })}
      />
    </>
  );
}

const MOST_PARTS = 10;

/** How many stored values the rule would be broken by. */
function Stored({
  sheet,
  column,
  rule,
}: Pick<RuleEditorProps, 'sheet' | 'column'> & { rule: Rule }) {
  const data = useBroken(sheet.id, column.id, [rule]);
  return data ? <Broken broken={data} {...{ sheet, columnId: column.id }} isDraft /> : null;
}
