import { Box, Button, Flex, HStack, Input, InputGroup, SimpleGrid, Text } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import {
  columnIdsOf,
  dayAtEnd,
  isBlankQuestion,
  kindOf,
  localeFacts,
  NO_QUESTION,
  sayCount,
  sayCountOf,
  withDayAtEnd,
  type Column,
  type Question,
} from '@varn/core';
import { useEffect, useId, useRef, useState, type KeyboardEvent } from 'react';
import { CalendarButton } from '../form/controls/CalendarButton';
import { KindGlyph } from '../ui/KindGlyph';
import { Notice } from '../ui/Notice';
import { KeepQuestion } from './KeepQuestion';
import { offeredIn, type ListsByColumn } from '../api/lists';
import { useCounts } from './useCounts';

/** What can be written into a field of a question, by what its column holds. */
const EXAMPLES: Readonly<Record<string, string>> = {
  number: '>= 7   3..5   empty',
  date: '2026-03   this week   >= 1 Mar',
  text: 'ash   ash*   not ash   empty',
  choice: 'one, another   not …   empty',
  yesNo: 'yes   no   empty',
  time: '< 9:30   9:00..12:00',
};

interface AskingProps {
  readonly form: FormView;
  readonly lists: ListsByColumn;
  /** What is looked at, as the query of an address. */
  readonly address: string;
  /** The serial of now in the workbook's zone. */
  readonly now: number;
  readonly question: Question;
  readonly onAsk: (question: Question) => void;
  /** Shows the matches, and goes to the first of them. */
  readonly onDone: () => void;
}

/** What a column's values may be: its choices, or what it holds. */
function suggestedIn(
  column: Column,
  { suggestions }: FormView,
  lists: ListsByColumn,
): readonly string[] {
  const items = offeredIn(column, lists);
  return items.length > 0 ? items.map(({ text }) => text) : (suggestions[column.id] ?? []);
}

/** The form turned into a question: each field takes a value or a condition; all must hold. */
export function Asking(props: AskingProps) {
  const { form, lists, address, now, question, onAsk, onDone } = props;
  const { sheet } = form;
  const { counts, isOld, failure } = useCounts(sheet.id, question, sheet.count);
  const first = useRef<HTMLDivElement>(null);
  useEffect(() => first.current?.querySelector('input')?.focus(), []);
  const onForm = new Set(form.definition.blocks.flatMap(columnIdsOf));
  const [shown, others] = [
    sheet.columns.filter(({ id }) => onForm.has(id)),
    sheet.columns.filter(({ id }) => !onForm.has(id)),
  ];
  const calendar = { locale: form.locale, now };
  const saysOf = (columnId: string): string =>
    question.filters.find((each) => each.columnId === columnId)?.says ?? '';
  const say = (columnId: string, says: string): void => {
    const isThere = question.filters.some((each) => each.columnId === columnId);
    const filters = isThere
      ? question.filters.map((each) => (each.columnId === columnId ? { columnId, says } : each))
      : [...question.filters, { columnId, says }];
    onAsk({ ...question, filters: filters.filter((each) => each.says !== '') });
  };
  const partOf = (column: Column) => (
    <ConditionField
      key={column.id}
      column={column}
      says={saysOf(column.id)}
      count={
        isOld ? null : (counts?.parts.find(({ columnId }) => columnId === column.id)?.count ?? null)
      }
      problem={
        isOld
          ? ''
          : (counts?.problems.find(({ columnId }) => columnId === column.id)?.message ?? '')
      }
      suggestions={suggestedIn(column, form, lists)}
      onSay={(says) => say(column.id, says)}
      calendar={calendar}
    />
  );
  return (
    <Box
      maxW="1040px"
      mx="auto"
      bg="leaf"
      borderWidth="1px"
      borderStyle="dashed"
      borderColor="slate"
      borderRadius="8px"
      p={{ base: '4', md: '5' }}
      role="search"
      aria-label="Question"
      ref={first}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' || event.target instanceof HTMLButtonElement) return;
        event.preventDefault();
        event.stopPropagation();
        const isUnread = !isOld && (counts?.problems.length ?? 0) > 0;
        if (isUnread) return;
        if ((counts?.count ?? 0) > 0 || !isBlankQuestion(question)) onDone();
      }}
    >
      <Flex align="center" gap="3" wrap="wrap" mb="4">
        <Text role="status" fontWeight="600" minW="0">
          {failure ||
            (counts
              ? `${counts.says}: ${sayCount(counts.count)} of ${sayCountOf(counts.of, 'record')}.`
              : 'Counting…')}
        </Text>
        <HStack gap="2" ms="auto">
          <Button size="sm" onClick={onDone} disabled={counts?.count === 0}>
            Show matches
          </Button>
          <Button
            size="sm"
            variant="outline"
            disabled={isBlankQuestion(question)}
            onClick={() => onAsk(NO_QUESTION)}
          >
            Clear the search
          </Button>
          {!isBlankQuestion(question) && <KeepQuestion form={form} address={address} />}
        </HStack>
      </Flex>
      <SimpleGrid columns={{ base: 1, md: 2, xl: 3 }} columnGap="5" rowGap="3">
        <ConditionField
          column={null}
          says={question.text ?? ''}
          count={
            isOld ? null : (counts?.parts.find(({ columnId }) => columnId === null)?.count ?? null)
          }
          problem=""
          suggestions={[]}
          onSay={(text) => {
            const { text: _, ...rest } = question;
            onAsk(text === '' ? rest : { ...rest, text });
          }}
        />
        {shown.map(partOf)}
      </SimpleGrid>
      {others.length > 0 && (
        <>
          <Text as="h2" color="ink.soft" fontWeight="600" mt="5" mb="2" fontSize="14px">
            Not on this form
          </Text>
          <SimpleGrid columns={{ base: 1, md: 2, xl: 3 }} columnGap="5" rowGap="3">
            {others.map(partOf)}
          </SimpleGrid>
        </>
      )}
    </Box>
  );
}

interface ConditionFieldProps {
  /** `null` for words in any column. */
  readonly column: Column | null;
  readonly says: string;
  /** How many records are left with this one and those before it. */
  readonly count: number | null;
  readonly problem: string;
  readonly suggestions: readonly string[];
  readonly onSay: (says: string) => void;
  /** What a calendar needs, where the column holds days. */
  readonly calendar?: { readonly locale: string; readonly now: number };
}

/** How many suggestions a field's list has. */
const MOST_SUGGESTED = 100;

function ConditionField(props: ConditionFieldProps) {
  const { column, says, count, problem, suggestions, onSay, calendar } = props;
  const id = useId();
  const input = useRef<HTMLInputElement>(null);
  const [isOpen, setOpen] = useState(false);
  const days = column && calendar && isOfDays(column) ? calendar : null;
  const heading = column?.heading ?? 'Any column';
  return (
    <Box>
      <Flex as="label" {...{ htmlFor: id }} align="center" gap="1.5" mb="0.5" fontSize="13px">
        {column && <KindGlyph kind={column.kind} size={13} />}
        <Text as="span" id={`${id}-label`} fontWeight="600" truncate>
          {heading}
        </Text>
        {says.trim() !== '' && problem === '' && (
          <Text as="span" color="slate" ms="auto" fontFamily="mono" flex="none">
            {count === null ? '…' : sayCount(count)}
          </Text>
        )}
      </Flex>
      <InputGroup
        endElement={
          days && (
            <CalendarButton
              open={isOpen}
              onOpen={setOpen}
              field={input}
              labelId={`${id}-label`}
              readOnly={false}
              day={dayAtEnd(says, { locale: localeFacts(days.locale), now: days.now })}
              today={Math.floor(days.now)}
              locale={days.locale}
              onPick={(day) => onSay(withDayAtEnd(says, day, localeFacts(days.locale)))}
            />
          )
        }
        endElementProps={{ px: '1' }}
      >
        <Input
          enterKeyHint="search"
          id={id}
          ref={input}
          aria-label={heading}
          size="sm"
          bg="paper"
          borderColor={problem ? 'madder' : 'edge'}
          fontFamily="mono"
          aria-invalid={problem !== '' || undefined}
          aria-describedby={problem ? `${id}-problem` : undefined}
          list={suggestions.length > 0 ? `${id}-list` : undefined}
          placeholder={exampleFor(column)}
          maxLength={300}
          autoComplete="off"
          value={says}
          onChange={(event) => onSay(event.target.value)}
          {...(days && {
            'aria-keyshortcuts': 'Alt+ArrowDown',
            onKeyDown: (event: KeyboardEvent) => {
              if (!event.altKey || event.key !== 'ArrowDown') return;
              event.preventDefault();
              setOpen(true);
            },
          })}
        />
      </InputGroup>
      {suggestions.length > 0 && (
        <datalist id={`${id}-list`}>
          {suggestions.slice(0, MOST_SUGGESTED).map((each) => (
            <option key={each} value={each} />
          ))}
        </datalist>
      )}
      {problem !== '' && (
        <Box id={`${id}-problem`} fontSize="12.5px" mt="1">
          <Notice tone="refuse">{problem}</Notice>
        </Box>
      )}
    </Box>
  );
}

/** Whether a column holds days, by which one looks for it. */
function isOfDays(column: Column): boolean {
  const { iso } = kindOf(column);
  return iso === 'date' || iso === 'moment';
}

function exampleFor(column: Column | null): string {
  if (!column) return '24 nov wyn';
  const kind = kindOf({
    kind: column.kind === 'computed' ? (column.settings.shownAs ?? 'text') : column.kind,
  });
  if (kind.iso === 'time') return EXAMPLES['time'] ?? '';
  if (kind.iso !== undefined) return EXAMPLES['date'] ?? '';
  if (kind.holds === 'number') return EXAMPLES['number'] ?? '';
  if (kind.holds === 'boolean') return EXAMPLES['yesNo'] ?? '';
  return EXAMPLES[kind.typing === 'choice' ? 'choice' : 'text'] ?? '';
}
