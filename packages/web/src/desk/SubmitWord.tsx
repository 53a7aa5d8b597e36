import { Button, HStack, Text } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import { labelOf, readiness, sayCount, sayCountOf } from '@varn/core';
import { Notice } from '../ui/Notice';
import { focusField } from './focus';
import type { Desk } from './useDesk';
import type { Sending } from './useSubmit';

interface SubmitWordProps {
  readonly form: FormView;
  readonly desk: Desk;
  readonly sending: Sending;
  readonly onTryNow: () => void;
  readonly onPutBack: () => void;
}

/** Where it landed, or what is still missing. The first is told to screen readers, politely. */
export function SubmitWord(props: SubmitWordProps) {
  const { form, desk, sending } = props;
  return (
    <HStack gap="4" wrap="wrap" minH="24px">
      <HStack role="status" gap="2">
        <Outcome {...props} />
      </HStack>
      {sending.is !== 'notWritten' && <Readiness form={form} desk={desk} />}
    </HStack>
  );
}

function Outcome({ form, sending, onTryNow, onPutBack }: SubmitWordProps) {
  const { name } = form.sheet;
  switch (sending.is) {
    case 'idle':
      return null;
    case 'sending':
      return <Text color="ink.soft">Sending…</Text>;
    case 'notWritten':
      return (
        <>
          <Notice tone="ask">
            Not written: the server does not answer. All is kept; Varn tries again.
          </Notice>
          <Button size="xs" variant="outline" onClick={onTryNow}>
            Try now
          </Button>
        </>
      );
    case 'written': {
      const { row, before, after, kind } = sending.landed;
      const done = kind === 'recordPutBack' ? 'put back into' : 'written to';
      return (
        <Notice tone="settled">
          Row {sayCount(row)} {done} {name}. {sayCountOf(before, 'record')} before,{' '}
          {sayCount(after)} now.
        </Notice>
      );
    }
    case 'takenBack': {
      const { row, before, after } = sending.landed;
      return (
        <>
          <Notice tone="settled">
            Row {sayCount(row)} taken back from {name}. {sayCountOf(before, 'record')} before,{' '}
            {sayCount(after)} now.
          </Notice>
          <Button size="xs" variant="outline" onClick={onPutBack}>
            Put back
          </Button>
        </>
      );
    }
    case 'refused':
      return (
        <Notice tone="stop">
          {[sending.message, ...sending.verdicts.map(({ message }) => message)].join(' ')}
        </Notice>
      );
  }
}

/** How many required answers are missing, and a jump to the first. */
function Readiness({ form, desk }: { form: FormView; desk: Desk }) {
  const { definition, columns, filling } = desk;
  const { required, missing, refused } = readiness(definition, columns, filling);
  const [first] = [...refused, ...missing];
  if (first === undefined) return required > 0 ? <Text color="pine">Ready to submit</Text> : null;
  const field = form.definition.fields.find(({ id }) => id === first);
  const column = field && columns.get(field.columnId);
  const words = [
    ...(refused.length > 0 ? [`${refused.length} not right yet`] : []),
    ...(missing.length > 0 ? [`${missing.length} of ${required} required missing`] : []),
  ].join(', ');
  return (
    <Button size="xs" variant="ghost" color="ink.soft" onClick={() => focusField(first)}>
      {words}: go to {field && column ? labelOf(field, column) : 'it'}
    </Button>
  );
}
