import { Box, Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { BrokenView, SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import {
  kindOf,
  RELATIONS,
  sayRule,
  serialNow,
  SIGN_SETS,
  type Column,
  type LocaleFacts,
  type Rule,
  type Strictness,
} from '@varn/core';
import { useState } from 'react';
import useSWR from 'swr';
import { request } from '../../api/client';
import { Choice, Line, Lines, Tick } from '../../ui/controls';
import { Broken } from './Broken';
import {
  blankDraft,
  readDraft,
  RELATION_NAMES,
  SET_NAMES,
  testsFor,
  type RuleDraft,
  type TestId,
} from './ruleDraft';
import { TryValue } from './TryValue';

interface RuleEditorProps {
  readonly sheet: SheetView;
  readonly column: Column;
  readonly locale: LocaleFacts;
  readonly timeZone: string;
  readonly onAdd: (rule: Rule) => void;
  readonly onLeave: () => void;
}

const OTHERWISE: readonly (readonly [Strictness, string])[] = [
  ['refuse', 'Refuse it'],
  ['ask', 'Ask whether it is meant'],
  ['note', 'Take it, and note it'],
];

/** A rule being written: said as a sentence, tried on a value, and on what is stored. */
export function RuleEditor(props: RuleEditorProps) {
  const { sheet, column, locale, timeZone, onAdd, onLeave } = props;
  const [draft, setDraft] = useState<RuleDraft>(() => blankDraft(column));
  const [now] = useState(() => serialNow(Date.now(), timeZone));
  const read = readDraft(draft, { column, locale, now });
  const set = (change: Partial<RuleDraft>): void => setDraft({ ...draft, ...change });
  const headingOf = (id: string): string =>
    sheet.columns.find((each) => each.id === id)?.heading ?? '';
  return (
    <Stack
      gap="3"
      borderWidth="1px"
      borderColor="brass"
      borderRadius="4px"
      p="3"
      role="group"
      aria-label="A new rule"
    >
      <Choice
        label={`${column.heading} must`}
        value={draft.is}
        options={testsFor(column)}
        onChange={(is) => set({ is: is as TestId, from: '', to: '', text: '' })}
      />
      <TestFields {...{ draft, set, sheet, column }} />
      <Tick
        label="The contrary: it must not"
        checked={draft.not}
        onChange={(not) => set({ not })}
      />
      <Choice
        label="Otherwise"
        value={draft.strictness}
        options={OTHERWISE}
        onChange={(strictness) => set({ strictness: strictness as Strictness })}
      />
      <Line
        label="Say instead"
        hint="A message of your own; {value} stands for what was typed"
        value={draft.message}
        onPut={(message) => set({ message })}
      />
      <Box role="status" fontSize="13px">
        {read.ok ? (
          <Text fontWeight="600">{sayRule(read.rule, { column, locale, headingOf })}</Text>
        ) : (
          <Text color="ink.soft">{read.says}</Text>
        )}
      </Box>
      {read.ok && (
        <>
          <TryValue rules={[read.rule]} {...{ column, locale, now, sheet }} />
          <Stored {...{ sheet, column }} rule={read.rule} />
        </>
      )}
      <HStack>
        <Button size="xs" disabled={!read.ok} onClick={() => read.ok && onAdd(read.rule)}>
          Add the rule
        </Button>
        <Button size="xs" variant="outline" onClick={onLeave}>
          Leave it
        </Button>
      </HStack>
    </Stack>
  );
}

interface TestFieldsProps extends Pick<RuleEditorProps, 'sheet' | 'column'> {
  readonly draft: RuleDraft;
  readonly set: (change: Partial<RuleDraft>) => void;
}

/** What is filled in for the test that was chosen. */
function TestFields({ draft, set, sheet, column }: TestFieldsProps) {
  const { is, text } = draft;
  switch (is) {
    case 'between':
    case 'length':
      return (
        <HStack align="end">
          <Line label="At least" value={draft.from} onPut={(from) => set({ from })} />
          <Line label="At most" value={draft.to} onPut={(to) => set({ to })} />
        </HStack>
      );
    case 'multiple':
      return <Line label="Of" value={text} onPut={(of) => set({ text: of })} />;
    case 'within':
      return (
        <Line label="Days before or after" value={text} onPut={(days) => set({ text: days })} />
      );
    case 'contains':
    case 'begins':
    case 'ends':
      return <Line label="Text" value={text} onPut={(part) => set({ text: part })} />;
    case 'picture':
      return (
        <Line
          label="Places"
          hint="A for a letter, 9 for a figure, fixed letters in quotes: 'RW-'999"
          mono
          value={text}
          onPut={(picture) => set({ text: picture })}
        />
      );
    case 'oneOf':
      return (
        <Lines
          label="Values"
          hint="One a line"
          value={text}
          onPut={(values) => set({ text: values })}
        />
      );
    case 'madeOf':
      return (
        <>
          {SIGN_SETS.map((each) => (
            <Tick
              key={each}
              label={SET_NAMES[each]}
              checked={draft.sets.includes(each)}
              onChange={(checked) =>
                set({
                  sets: checked
                    ? [...draft.sets, each]
                    : draft.sets.filter((other) => other !== each),
                })
              }
            />
          ))}
          <Line label="And these signs" value={text} onPut={(also) => set({ text: also })} />
        </>
      );
    case 'compared': {
      const isDated = kindOf(column).iso !== undefined;
      return (
        <HStack align="end" wrap="wrap">
          <Choice
            label="It must be"
            value={draft.by}
            options={RELATIONS.map((by) => [by, RELATION_NAMES[by][isDated ? 1 : 0]])}
            onChange={(by) => set({ by: by as RuleDraft['by'] })}
          />
          <Choice
            label="Column"
            value={draft.columnId}
            options={[
              ['', 'Choose one'],
              ...sheet.columns
                .filter(({ id }) => id !== column.id)
                .map(({ id, heading }) => [id, heading] as const),
            ]}
            onChange={(columnId) => set({ columnId })}
          />
        </HStack>
      );
    }
    default:
      return null;
  }
}

/** How many stored values the rule would be broken by. */
function Stored({
  sheet,
  column,
  rule,
}: Pick<RuleEditorProps, 'sheet' | 'column'> & { rule: Rule }) {
  const path = paths.brokenRules(sheet.id, column.id);
  const { data } = useSWR(
    [path, JSON.stringify(rule)],
    () => request<BrokenView>('POST', path, { rules: [rule] }),
    { keepPreviousData: true },
  );
  return data ? <Broken broken={data} sheet={sheet} isDraft /> : null;
}
