import { Button, Flex, HStack, Text } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import { sayCount, type Question } from '@varn/core';
import { X } from 'lucide-react';
import { Notice } from '../ui/Notice';
import { KeepQuestion } from './KeepQuestion';
import { useCounts } from './useCounts';

/**
 * The question over the form, while its matches are stepped through: a sentence, and on a phone its
 * conditions, each left out by a tap.
 */
export function QuestionLine({
  form,
  question,
  address,
  onAsk,
  onEdit,
  onEmpty,
}: {
  readonly form: FormView;
  readonly address: string;
  readonly question: Question;
  readonly onAsk: (question: Question) => void;
  readonly onEdit: () => void;
  readonly onEmpty: () => void;
}) {
  const { sheet } = form;
  const { counts } = useCounts(sheet.id, question, sheet.count);
  const [only] = counts?.problems ?? [];
  return (
    <Flex mb="3" gap="3" align="center" wrap="wrap" maxW="1040px" mx="auto" role="status">
      {only ? (
        <Notice tone="refuse">{only.message}</Notice>
      ) : (
        <>
          <Text color="slate" fontWeight="600" hideBelow="md">
            {counts
              ? `${counts.says}: ${sayCount(counts.count)} of ${sayCount(counts.of)}.`
              : 'Counting…'}
          </Text>
          <HStack gap="1" wrap="wrap" hideFrom="md" role="group" aria-label="Conditions">
            {(counts?.parts ?? []).map(({ columnId, says }) => (
              <Button
                key={columnId ?? ''}
                size="xs"
                variant="outline"
                minH="32px"
                color="slate"
                borderRadius="full"
                aria-label={`Leave out: ${says}`}
                onClick={() => onAsk(without(question, columnId))}
              >
                {says}
                <X size={13} aria-hidden />
              </Button>
            ))}
            {counts && (
              <Text color="slate" fontWeight="600">
                {sayCount(counts.count)} of {sayCount(counts.of)}
              </Text>
            )}
          </HStack>
        </>
      )}
      <HStack gap="1" wrap="wrap">
        <Button size="xs" variant="outline" minH="28px" onClick={onEdit}>
          Change the question
        </Button>
        <Button size="xs" variant="outline" minH="28px" onClick={onEmpty}>
          Clear it
        </Button>
        <KeepQuestion form={form} address={address} />
      </HStack>
    </Flex>
  );
}

/** A question without what it asks of a column, or without its words. */
function without({ text, filters }: Question, columnId: string | null): Question {
  const isText = columnId === null;
  return {
    ...(!isText && text !== undefined && { text }),
    filters: isText ? filters : filters.filter((each) => each.columnId !== columnId),
  };
}
