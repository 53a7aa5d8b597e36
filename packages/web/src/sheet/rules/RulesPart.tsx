import { Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import {
  MOST_RULES,
  sayCountOf,
  sayRule,
  serialNow,
  type Column,
  type LocaleFacts,
  type Rule,
  type RuleWords,
} from '@varn/core';
import { lazy, Suspense, useState } from 'react';
import { loadPatterns } from '../../api/knowledge';
import { useWorkbook } from '../../api/resources';
import { Broken } from './Broken';
import { Clashes } from './Clashes';
import { Suggested } from './Suggested';
import { useBroken } from './useBroken';

/** Patterns can be written in it: what matches them comes with it. */
const RuleEditor = lazy(async () => {
  const [{ RuleEditor: editor }] = await Promise.all([import('./RuleEditor'), loadPatterns()]);
  return { default: editor };
});

interface RulesPartProps {
  /** The sheet with the column in it, stored or to come. */
  readonly sheet: SheetView;
  readonly column: Column<string>;
  /** The rules that are written here. */
  readonly rules: readonly Rule[];
  /** Of a field: those of its column, which hold as well and are changed there. */
  readonly inherited?: readonly Rule[];
  /** Whether the column has stored values to hold against them. */
  readonly isStored: boolean;
  readonly locale: LocaleFacts;
  readonly onPut: (rules: readonly Rule[]) => void;
}

/** The rule that is written: a new one, or one that is changed, by its place. */
type Edited = 'none' | 'new' | number;

/** What may be stored in a column, or typed into a field, as sentences; which values break it. */
export function RulesPart(props: RulesPartProps) {
  const { data: workbook } = useWorkbook(props.sheet.workbookId);
  return workbook ? <Rules {...props} timeZone={workbook.timeZone} /> : null;
}

const NONE: readonly Rule[] = [];

function Rules(props: RulesPartProps & { timeZone: string }) {
  const { sheet, column, rules, inherited = NONE, isStored, locale, timeZone, onPut } = props;
  const [edited, setEdited] = useState<Edited>('none');
  const [suggests, setSuggests] = useState(false);
  const [now] = useState(() => serialNow(Date.now(), timeZone));
  const broken = useBroken(sheet.id, column.id, isStored ? rules : NONE);
  const columns = new Map<string, Column>(sheet.columns.map((each) => [each.id, each]));
  const headingOf = (id: string): string => columns.get(id)?.heading ?? 'a deleted column';
  const words: RuleWords = { column, columns, locale, headingOf };
  const isOfField = props.inherited !== undefined;
  const editor = (at: number | null) => (
    <Suspense fallback={null}>
      <RuleEditor
        key={at ?? 'new'}
        {...{ sheet, column, words, locale, now, isStored, isOfField }}
        others={[...inherited, ...(at === null ? rules : rules.toSpliced(at, 1))]}
        rule={at === null ? undefined : rules[at]}
        onPut={(rule) => {
          setEdited('none');
          onPut(at === null ? [...rules, rule] : rules.with(at, rule));
        }}
        onLeave={() => setEdited('none')}
      />
    </Suspense>
  );
  return (
    <Stack gap="2" role="group" aria-label="Rules">
      <Text fontWeight="600" fontSize="13px">
        Rules
      </Text>
      {inherited.map((rule) => {
        const says = sayRule(rule, words);
        return (
          <Text key={says} fontSize="13px" color="ink.soft" overflowWrap="anywhere">
            {says} (of the column, everywhere)
          </Text>
        );
      })}
      {rules.map((rule, at) => {
        const says = sayRule(rule, words);
        if (edited === at) return <div key={`${at} ${says}`}>{editor(at)}</div>;
        // Of one rule it is told below.
        const count = rules.length > 1 ? (broken?.counts[at] ?? 0) : 0;
        return (
          <HStack key={`${at} ${says}`} align="start" justify="space-between" fontSize="13px">
            <Text overflowWrap="anywhere">
              {says}
              {isOfField && (
                <Text as="span" color="ink.soft">
                  {' '}
                  (on this form)
                </Text>
              )}
              {count > 0 && (
                <Text as="span" color="ink.soft">
                  {' '}
                  {sayCountOf(count, 'record')} {count === 1 ? 'breaks' : 'break'} it.
                </Text>
              )}
            </Text>
            <HStack gap="1" flexShrink="0">
              <Button
                size="2xs"
                variant="outline"
                aria-label={`Change the rule: ${says}`}
                onClick={() => setEdited(at)}
              >
                Change
              </Button>
              <Button
                size="2xs"
                variant="outline"
                aria-label={`Remove the rule: ${says}`}
                onClick={() => {
                  setEdited('none');
                  onPut(rules.toSpliced(at, 1));
                }}
              >
                Remove
              </Button>
            </HStack>
          </HStack>
        );
      })}
      {broken && <Broken broken={broken} {...{ sheet, columnId: column.id }} />}
      {edited === 'none' && <Clashes {...{ words, now }} rules={[...inherited, ...rules]} />}
      {edited === 'new' && editor(null)}
      {edited === 'none' && (
        <HStack>
          {rules.length < MOST_RULES && (
            <Button size="xs" variant="outline" onClick={() => setEdited('new')}>
              Add a rule
            </Button>
          )}
          {isStored && !isOfField && (
            <Button
              size="xs"
              variant="outline"
              aria-expanded={suggests}
              onClick={() => setSuggests(!suggests)}
            >
              Suggest rules
            </Button>
          )}
        </HStack>
      )}
      {edited === 'none' && suggests && (
        <Suggested {...{ sheet, words }} onAdopt={(rule) => onPut([...rules, rule])} />
      )}
    </Stack>
  );
}
