import { Box, Button, Flex, HStack, Stack, Text } from '@chakra-ui/react';
import type { DraftView, FormView } from '@varn/contract';
import { sayCount, sayCountOf } from '@varn/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { newId } from '../api/newId';
import { addresses } from '../addresses';
import { LandingRow } from '../desk/LandingRow';
import { Readiness } from '../desk/Readiness';
import { sayBecame } from '../desk/sayBecame';
import { useSubmit } from '../desk/useSubmit';
import { FormBody } from '../form/FormBody';
import { useFilling } from '../form/useFilling';
import { Notice } from '../ui/Notice';

const PHONE_PX = 390;
/** The phone is laid out at its own width, and shown smaller, so that the desk has room beside it. */
const PHONE_ZOOM = 0.85;

interface PreviewProps {
  readonly draft: DraftView;
  readonly form: FormView;
  /** Keeps the draft, so that what is tried is what is seen. */
  readonly onBeforeTrial: () => Promise<unknown>;
  readonly onTried: () => void;
  readonly onRemoveTrials: () => void;
}

/** The form as its users will see it, on a desk and on a phone, to be tried for real. */
export function Preview({ draft, form, onBeforeTrial, onTried, onRemoveTrials }: PreviewProps) {
  const state = useFilling(form, { draft: true });
  const [writeId, setWriteId] = useState(newId);
  const { sending, submit } = useSubmit(form, { writeId, trial: true });
  const [columnId, setColumnId] = useState<string | null>(null);
  const busy = sending.is === 'sending';
  const onTry = async (): Promise<void> => {
    const { filling, sent } = state.submitNow();
    const [first] = filling.verdicts;
    if (first) {
      state.revealAll();
      state.jump(first.fieldId);
      return;
    }
    await onBeforeTrial();
    submit(sent, () => {
      state.next();
      setWriteId(newId());
      onTried();
    });
  };
  if (state.isLoading) return null;
  const body = <FormBody form={form} state={state} readOnly={busy} onEnterColumn={setColumnId} />;
  return (
    <Flex direction="column" minH="full">
      <Flex gap="5" p="4" align="start" flex="1">
        <Box flex="1" minW="0" data-desk-form>
          {body}
        </Box>
        <Box
          w={`${PHONE_PX}px`}
          style={{ zoom: PHONE_ZOOM }}
          flex="none"
          maxH="62dvh"
          overflow="auto"
          borderWidth="1px"
          borderColor="edge"
          borderRadius="8px"
          inert
          aria-label="On a phone"
        >
          {body}
        </Box>
      </Flex>
      <Stack borderTopWidth="1px" bg="paper" position="sticky" bottom="0" gap="2" pt="2">
        <HStack px="5" gap="4" wrap="wrap">
          <Button size="sm" onClick={() => void onTry()} disabled={busy} data-action="try">
            Submit as a trial
          </Button>
          <Box role="status">
            {sending.is === 'written' && (
              <Notice tone="settled">
                Trial in row {sayCount(sending.landed.row)}. {sayCount(sending.landed.before)}{' '}
                before, {sayCount(sending.landed.after)} now.{' '}
                {sayBecame(sending.landed, state.prepared.inputs, state.context.locale)}{' '}
                <Link to={addresses.sheet(form.sheet.workbookId, form.sheet.id)}>
                  Look at it in the sheet
                </Link>
              </Notice>
            )}
            {sending.is === 'refused' && <Notice tone="refuse">{sending.message}</Notice>}
          </Box>
          <Readiness
            filling={state.filling}
            inputs={state.prepared.inputs}
            onJump={state.jump}
            isHeldBack={false}
            ready="Ready to submit"
          />
          <Box flex="1" />
          {draft.trials > 0 && (
            <HStack>
              <Text color="ink.soft">{sayCountOf(draft.trials, 'trial record')} in the sheet</Text>
              <Button size="xs" variant="outline" onClick={onRemoveTrials}>
                Remove all trials
              </Button>
            </HStack>
          )}
        </HStack>
        <LandingRow
          form={form}
          filling={state.filling}
          locale={state.context.locale}
          columnId={columnId}
        />
      </Stack>
    </Flex>
  );
}
