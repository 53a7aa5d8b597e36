import { Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { BrokenView, ColumnView, SheetView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { MOST_RULES, sayCountOf, sayRule, type LocaleFacts, type Rule } from '@varn/core';
import { useState } from 'react';
import useSWR from 'swr';
import { request } from '../../api/client';
import { useWorkbook } from '../../api/resources';
import { Broken } from './Broken';
import { RuleEditor } from './RuleEditor';

interface RulesPartProps {
  readonly sheet: SheetView;
  readonly column: ColumnView;
  readonly locale: LocaleFacts;
  readonly onPut: (rules: readonly Rule[]) => void;
}

/** What may be stored in a column, as sentences; which stored values break it. */
export function RulesPart({ sheet, column, locale, onPut }: RulesPartProps) {
  const { rules = [] } = column.settings;
  const [isAdding, setAdding] = useState(false);
  const { data: workbook } = useWorkbook(sheet.workbookId);
  const path = paths.brokenRules(sheet.id, column.id);
  const { data: broken } = useSWR(
    rules.length > 0 ? [path, JSON.stringify(rules), sheet.count] : null,
    () => request<BrokenView>('POST', path, { rules }),
    { keepPreviousData: true, revalidateOnMount: true },
  );
  const headingOf = (id: string): string =>
    sheet.columns.find((each) => each.id === id)?.heading ?? 'a deleted column';
  return (
    <Stack gap="2" role="group" aria-label="Rules">
      <Text fontWeight="600" fontSize="13px">
        Rules
      </Text>
      {rules.map((rule, at) => {
        const says = sayRule(rule, { column, locale, headingOf });
        // Of one rule it is told below.
        const count = rules.length > 1 ? (broken?.counts[at] ?? 0) : 0;
        return (
          <HStack key={`${at} ${says}`} align="start" justify="space-between" fontSize="13px">
            <Text>
              {says}
              {count > 0 && (
                <Text as="span" color="ink.soft">
                  {' '}
                  {sayCountOf(count, 'record')} {count === 1 ? 'breaks' : 'break'} it.
                </Text>
              )}
            </Text>
            <Button
              size="2xs"
              variant="outline"
              aria-label={`Remove the rule: ${says}`}
              onClick={() => onPut(rules.toSpliced(at, 1))}
            >
              Remove
            </Button>
          </HStack>
        );
      })}
      {rules.length > 0 && broken && <Broken broken={broken} sheet={sheet} />}
      {isAdding && workbook ? (
        <RuleEditor
          {...{ sheet, column, locale }}
          timeZone={workbook.timeZone}
          onAdd={(rule) => {
            setAdding(false);
            onPut([...rules, rule]);
          }}
          onLeave={() => setAdding(false)}
        />
      ) : (
        rules.length < MOST_RULES && (
          <Button size="xs" variant="outline" alignSelf="start" onClick={() => setAdding(true)}>
            Add a rule
          </Button>
        )
      )}
    </Stack>
  );
}
