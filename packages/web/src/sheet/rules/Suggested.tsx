import { Button, HStack, Stack, Text } from '@chakra-ui/react';
import type { SheetView, SuggestedRulesView, SuggestedRuleView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { sayCount, sayCountOf, sayMust, type Rule, type RuleWords } from '@varn/core';
import { useState } from 'react';
import useSWR from 'swr';
import { get } from '../../api/client';
import { Broken } from './Broken';
import { useBroken } from './useBroken';

interface SuggestedProps {
  readonly sheet: SheetView;
  readonly words: RuleWords;
  readonly onAdopt: (rule: Rule) => void;
}

/** Rules that nearly all stored values follow already, each a click from being the column's. */
export function Suggested({ sheet, words, onAdopt }: SuggestedProps) {
  const { column } = words;
  const { data } = useSWR([sheet.id, column.id, sheet.revision, 'suggested'], () =>
    get<SuggestedRulesView>(paths.suggestedRules(sheet.id, column.id)),
  );
  if (!data) return null;
  if (data.suggestions.length === 0) {
    return (
      <Text fontSize="13px" color="ink.soft" role="status">
        The stored values follow no other rule: they are too few, or too different.
      </Text>
    );
  }
  return (
    <Stack gap="2" role="group" aria-label="Suggested rules">
      {data.suggestions.map((each) => (
        <SuggestedRule key={JSON.stringify(each.rule)} {...{ sheet, words, onAdopt }} of={each} />
      ))}
    </Stack>
  );
}

function SuggestedRule({ sheet, words, of, onAdopt }: SuggestedProps & { of: SuggestedRuleView }) {
  const { rule, values, exceptions } = of;
  const [isOpen, setOpen] = useState(false);
  const says = sayMust(rule, words);
  return (
    <Stack gap="1" fontSize="13px" borderLeftWidth="2px" borderColor="edge" pl="2">
      <Text>
        Must {says}.{' '}
        <Text as="span" color="ink.soft">
          {exceptions === 0
            ? `All ${sayCount(values)} values do.`
            : `${sayCount(values - exceptions)} of ${sayCountOf(values, 'value')} do.`}
        </Text>
      </Text>
      <HStack>
        <Button
          size="2xs"
          aria-label={`Adopt the rule: must ${says}`}
          onClick={() => onAdopt(rule)}
        >
          Adopt
        </Button>
        {exceptions > 0 && (
          <Button
            size="2xs"
            variant="outline"
            aria-expanded={isOpen}
            onClick={() => setOpen(!isOpen)}
          >
            Exceptions
          </Button>
        )}
      </HStack>
      {isOpen && <Exceptions {...{ sheet, rule }} columnId={words.column.id} />}
    </Stack>
  );
}

interface ExceptionsProps {
  readonly sheet: SheetView;
  readonly rule: Rule;
  readonly columnId: string;
}

function Exceptions({ sheet, rule, columnId }: ExceptionsProps) {
  const data = useBroken(sheet.id, columnId, [rule]);
  return data ? <Broken broken={data} {...{ sheet, columnId: columnId }} isDraft /> : null;
}
