import { Box, Grid } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import {
  expected,
  fieldSpan,
  fieldsOnPage,
  fillRows,
  PAGE_PARTS,
  sayProblem,
  type Verdict,
} from '@varn/core';
import { useMemo, type KeyboardEvent } from 'react';
import { DeskField } from './fields/DeskField';
import { focusNextField } from './focus';
import type { Desk } from './useDesk';

const sayVerdict = (verdict: Verdict | undefined): string =>
  verdict ? sayProblem(verdict.problem) : '';

interface DeskFormProps {
  readonly form: FormView;
  readonly desk: Desk;
  readonly readOnly: boolean;
  readonly onSubmit: () => void;
  /** Told when a field of a column is entered. */
  readonly onEnterColumn: (columnId: string) => void;
}

/**
 * The form as its users fill it in. Enter goes on to the next field and from the last to Submit,
 * Ctrl+Enter submits.
 */
export function DeskForm({ form, desk, readOnly, onSubmit, onEnterColumn }: DeskFormProps) {
  const { definition, columns, answers, filling, revealed, type, leave, mean } = desk;
  const fields = useMemo(() => {
    const onPage = fieldsOnPage(definition, columns);
    const spans = fillRows(
      onPage.map(({ field, column }) => fieldSpan(field, column, form.lengths[column.id] ?? 0)),
    );
    return onPage.map(({ field, column }, index) => ({
      field,
      column,
      span: spans[index] ?? PAGE_PARTS,
    }));
  }, [definition, columns, form.lengths]);
  const problems = useMemo(
    () => new Map(filling.verdicts.map((verdict) => [verdict.fieldId, verdict])),
    [filling],
  );

  const onKeyDown = (event: KeyboardEvent): void => {
    const target = event.target as HTMLElement;
    if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      onSubmit();
    } else if (
      event.key === 'Enter' &&
      target.tagName !== 'TEXTAREA' &&
      target.dataset['field'] !== undefined
    ) {
      event.preventDefault();
      focusNextField(target);
    }
  };

  return (
    <Box p={{ base: '3', md: '4' }} onKeyDown={onKeyDown} data-desk-form>
      <Box bg="leaf" borderWidth="1px" borderRadius="8px" p={{ base: '4', md: '5' }}>
        <Grid templateColumns={`repeat(${PAGE_PARTS}, minmax(0, 1fr))`} columnGap="4" rowGap="2.5">
          {fields.map(({ field, column, span }) => (
            <DeskField
              key={field.id}
              field={field}
              column={column}
              span={span}
              text={answers[field.id] ?? ''}
              shown={expected(column, form.nextNumbers) ?? 'Not typed here'}
              message={revealed.has(field.id) ? sayVerdict(problems.get(field.id)) : ''}
              asked={problems.get(field.id)?.ask ?? false}
              readOnly={readOnly}
              onType={type}
              onLeave={leave}
              onMean={mean}
              onEnter={onEnterColumn}
            />
          ))}
        </Grid>
      </Box>
    </Box>
  );
}
