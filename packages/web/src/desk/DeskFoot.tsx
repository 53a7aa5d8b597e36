import { Box } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import { isTyped } from '@varn/core';
import { useEffect, useMemo } from 'react';
import { later } from '../ui/later';
import { LandingRow } from './LandingRow';
import type { OpenRecord } from './openRecord';
import { Steps } from './StepBar';
import { SubmitWord } from './SubmitWord';
import type { Desk } from './useDesk';
import { placeOf, type DeskPlace } from './useDeskPlace';

/** The table of matches, and what is done to all of them: most who enter records ask for none. */
const matches = later(async () => (await import('./MatchesFoot')).MatchesFoot);

interface DeskFootProps {
  readonly form: FormView;
  readonly desk: Desk;
  readonly place: DeskPlace;
  readonly record: OpenRecord | null;
  /** The column one is at, which the landing row shows. */
  readonly columnId: string | null;
}

/** What stands here may be sent; '' where there is nothing to send, or nowhere. */
function sayReady({ filled, settling, stored }: Desk, record: OpenRecord | null): string {
  if (filled.leftBehind.length > 0) return '';
  if (!record) return 'Ready to submit';
  return settling.isGone || stored.size === 0 ? '' : 'Ready to update';
}

/** The foot: what became of the last submit, and the row about to be written, or the matches. */
export function DeskFoot({ form, desk, place, record, columnId }: DeskFootProps) {
  const { filling, prepared, context, jump } = desk.filled;
  const { locale } = context;
  const { isAsking, view } = place;
  useEffect(() => {
    if (isAsking) matches.load();
  }, [isAsking]);
  const base = desk.settling.base ?? record;
  const landing = useMemo(() => {
    if (!base) return null;
    const typed = prepared.inputs.filter(({ column }) => isTyped(column));
    return { ...base, written: new Set(typed.map(({ column }) => column.id)) };
  }, [base, prepared]);
  return (
    <Box as="footer" flex="none" borderTopWidth="1px">
      {!isAsking && (
        <Box className="desk-word" px={{ base: '3', md: '5' }} py="2">
          <SubmitWord
            sheetName={form.sheet.name}
            columns={form.sheet.columns}
            onOpenRow={desk.openRow}
            filling={filling}
            inputs={prepared.inputs}
            locale={locale}
            onJump={jump}
            sending={desk.sending}
            lineWhy={desk.lineWhy}
            said={desk.said}
            isHeldBack={desk.step.is === 'heldBack'}
            ready={sayReady(desk, record)}
            isCleared={desk.cleared}
            onTryNow={desk.tryNow}
            onTakeBack={desk.takeBack}
            onPutBack={desk.putBack}
          />
        </Box>
      )}
      {record && !isAsking && (
        <Box px="3" pb="2" hideFrom="md">
          <Steps
            opened={placeOf(place, record)}
            busy={desk.busy}
            onStep={place.step}
            hideFrom="md"
          />
        </Box>
      )}
      {view === '' ? (
        <LandingRow
          form={form}
          filling={filling}
          locale={locale}
          columnId={columnId}
          record={landing}
          onOpen={place.goTo}
        />
      ) : (
        <matches.Part form={form} desk={desk} place={place} record={record} />
      )}
    </Box>
  );
}
