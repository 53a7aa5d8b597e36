import { Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { BrokenView, ColumnView, SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import {
  MOST_RULES,
  sayCountOf,
  sayRule,
  serialNow,
  type LocaleFacts,
  type Rule,
  type RuleWords,
} from '@varn/core';
import { lazy, Suspense, useState } from 'react';
import useSWR from 'swr';
import { request } from '../../api/client';
import { loadPatterns } from '../../api/knowledge';
import { useWorkbook } from '../../api/resources';
import { Broken } from './Broken';
import { Clashes } from './Clashes';
import { Suggested } from './Suggested';

/** Patterns can be written in it: what matches them comes with it. */
const RuleEditor = lazy(async () => {
  const [{ RuleEditor: editor }] = await Promise.all([import('./RuleEditor'), loadPatterns()]);
  return { default: editor };
});

interface RulesPartProps {
  readonly sheet: SheetView;
  readonly column: ColumnView;
  readonly locale: LocaleFacts;
  readonly onPut: (rules: readonly Rule[]) => void;
}

/** The rule that is written: a new one, or one that is changed, by its place. */
type Edited = 'none' | 'new' | number;

/** What may be stored in a column, as sentences; which stored values break it. */
export function RulesPart(props: RulesPartProps) {
  const { data: workbook } = useWorkbook(props.sheet.workbookId);
  return workbook ? <Rules {...props} timeZone={workbook.timeZone} /> : null;
}

function Rules({ sheet, column, locale, timeZone, onPut }: RulesPartProps & { timeZone: string }) {
  const { rules = [] } = column.settings;
  const [edited, setEdited] = useState<Edited>('none');
  const [suggests, setSuggests] = useState(false);
  const [now] = useState(() => serialNow(Date.now(), timeZone));
  const path = paths.brokenRules(sheet.id, column.id);
  const { data: broken } = useSWR(
    rules.length > 0 ? [path, JSON.stringify(rules), sheet.revision] : null,
    () => request<BrokenView>('POST', path, { rules }),
    { keepPreviousData: true, revalidateOnMount: true },
  );
  const columns = new Map(sheet.columns.map((each) => [each.id, each]));
  const headingOf = (id: string): string => columns.get(id)?.heading ?? 'a deleted column';
  const words: RuleWords = { column, columns, locale, headingOf };
  const editor = (at: number | null) => (
    <Suspense fallback={null}>
      <RuleEditor
        key={at ?? 'new'}
        {...{ sheet, column, words, locale, now }}
        others={at === null ? rules : rules.toSpliced(at, 1)}
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
      {rules.map((rule, at) => {
        const says = sayRule(rule, words);
        if (edited === at) return <div key={`${at} ${says}`}>{editor(at)}</div>;
        // Of one rule it is told below.
        const count = rules.length > 1 ? (broken?.counts[at] ?? 0) : 0;
        return (
          <HStack key={`${at} ${says}`} align="start" justify="space-between" fontSize="13px">
            <Text overflowWrap="anywhere">
              {says}
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
      {rules.length > 0 && broken && <Broken broken={broken} sheet={sheet} />}
      {edited === 'none' && <Clashes {...{ rules, words, now }} />}
      {edited === 'new' && editor(null)}
      {edited === 'none' && (
        <HStack>
          {rules.length < MOST_RULES && (
            <Button size="xs" variant="outline" onClick={() => setEdited('new')}>
              Add a rule
            </Button>
          )}
          <Button
            size="xs"
            variant="outline"
            aria-expanded={suggests}
            onClick={() => setSuggests(!suggests)}
          >
            Suggest rules
          </Button>
        </HStack>
      )}
      {edited === 'none' && suggests && (
        <Suggested {...{ sheet, words }} onAdopt={(rule) => onPut([...rules, rule])} />
      )}
    </Stack>
  );
}
