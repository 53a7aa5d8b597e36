import { Box, Button, HStack, Text } from '@chakra-ui/react';
import type { FormView, Landed } from '@varn/contract';
import { mayAs } from '@varn/contract/roles';
import { afterMessage, sayCountOf, type Filling } from '@varn/core';
import { useCallback, useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { useNavigate, useParams } from 'react-router';
import { ApiRefusal, sayError } from '../api/client';
import { useForm, useWorkbook } from '../api/resources';
import { useBegunWork, type Begun } from '../api/useBegunWork';
import { addresses } from '../addresses';
import { focusFirstField, focusNextField } from '../form/focus';
import { FormBody, type Refusal } from '../form/FormBody';
import type { FilledIn } from '../form/filledIn';
import { shownPages, useFilling } from '../form/useFilling';
import { useSteady } from '../form/useSteady';
import { Notice } from '../ui/Notice';
import { Arriving } from '../frame/Arriving';
import { Shell } from '../frame/Shell';
import { DeskBar } from './DeskBar';
import { LandingRow } from './LandingRow';
import { answersOf, erasedBy, lastRecord, type StoredRecord } from './storedRecord';
import { SubmitWord } from './SubmitWord';
import { useBegunRecord, type BegunRecord } from './useBegunRecord';
import { useSubmit, type Sending, type SentSubmit } from './useSubmit';

/** The desk: where records are entered into a sheet through a form. */
export function DeskPage() {
  const { workbookId = '', formId } = useParams();
  const { data: form, error } = useForm(formId);
  const { data: workbook } = useWorkbook(workbookId);
  // What was typed stays while the form can't be read anew, or is gone.
  if (form && workbook) {
    if (form.version > 0) {
      const gone = error instanceof ApiRefusal ? sayGone(error) : '';
      return <Held key={form.id} form={form} role={workbook.role} gone={gone} />;
    }
    return <NotInUse form={form} mayCompose={mayAs(workbook.role, 'analyst')} />;
  }
  return <Arriving trail={[{ label: 'Form' }]} error={error} />;
}

function sayGone(refusal: ApiRefusal): string {
  return refusal.refusal.statusCode === 404
    ? 'This form was removed. The workbook’s analyst can put it back.'
    : sayError(refusal);
}

type Role = Parameters<typeof mayAs>[0];

/** Goes on with what was begun here and left, or begins anew. */
function Held(props: { form: FormView; role: Role; gone: string }) {
  const { form, role } = props;
  const begun = useBegunWork<BegunRecord>(`form.${form.id}`, mayAs(role, 'clerk'));
  if (!begun.isReady) return <Arriving trail={[{ label: form.name }]} error={undefined} />;
  return <InHand key={begun.visit} {...props} begun={begun} />;
}

/** Keeps to the version that is being filled in, until the next record or until it is asked for. */
function InHand({
  form,
  role,
  gone,
  begun,
}: {
  form: FormView;
  role: Role;
  gone: string;
  begun: Begun<BegunRecord>;
}) {
  const [held, setHeld] = useState(form);
  const [record, setRecord] = useState<StoredRecord | null>(() => {
    if (begun.found) return begun.found.record;
    return form.definition.entering?.opensOn === 'last' ? lastRecord(form) : null;
  });
  const isNewer = form.version !== held.version;
  const shown = { ...form, definition: held.definition, version: held.version };
  return (
    <AtDesk
      key={`${held.version}/${record?.id ?? ''}/${record?.revision ?? ''}`}
      form={isNewer ? shown : form}
      role={role}
      gone={gone}
      isNewer={isNewer}
      onTakeNewer={() => setHeld(form)}
      record={record}
      onRecord={setRecord}
      begun={begun}
    />
  );
}

function NotInUse({ form, mayCompose }: { form: FormView; mayCompose: boolean }) {
  const { workbookId = '' } = useParams();
  const navigate = useNavigate();
  return (
    <Shell trail={[{ label: form.name }]}>
      <Box p="6">
        <Notice tone="note">This form is not in use yet: it is still being laid out.</Notice>
        {mayCompose && (
          <Button mt="4" onClick={() => void navigate(addresses.compose(workbookId, form.id))}>
            Lay it out
          </Button>
        )}
      </Box>
    </Shell>
  );
}

/** What was done last and can be taken back. */
type Act =
  | { readonly is: 'cleared'; readonly filled: FilledIn }
  | { readonly is: 'written'; readonly landed: Landed };

/** What the server refused, by input. */
const refusalsOf = (sending: Sending): ReadonlyMap<string, Refusal> =>
  new Map(
    sending.is !== 'refused'
      ? []
      : sending.verdicts.map(({ fieldId, message }) => [
          fieldId,
          { message, text: sending.answers[fieldId] ?? '' },
        ]),
  );

interface AtDeskProps {
  readonly form: FormView;
  readonly role: Role;
  /** Why the form is not there any more; empty while it is. */
  readonly gone: string;
  /** Whether the form was put to use anew since it was opened. */
  readonly isNewer: boolean;
  readonly onTakeNewer: () => void;
  /** The stored record that is being corrected; `null` for a new one. */
  readonly record: StoredRecord | null;
  readonly onRecord: (record: StoredRecord | null) => void;
  readonly begun: Begun<BegunRecord>;
}

function AtDesk(props: AtDeskProps) {
  const { form, role, gone, isNewer, onTakeNewer, record, onRecord, begun } = props;
  const { workbookId = '' } = useParams();
  const navigate = useNavigate();
  const { data: workbook } = useWorkbook(workbookId);
  const mayEnter = mayAs(role, 'clerk');
  const state = useFilling(form, { stored: record ? (at) => answersOf(record, at) : undefined });
  const kept = useBegunRecord(begun, state, record);
  const { sending, submit, resend, update, undo, tryNow, forget } = useSubmit(form, {
    ...kept,
    writeId: begun.id,
    onIdUsed: begun.renew,
  });
  const [columnId, setColumnId] = useState<string | null>(null);
  const [acts, setActs] = useState<readonly Act[]>([]);
  const [said, setSaid] = useState('');
  const [early, setEarly] = useState(false);
  const [erasing, setErasing] = useState<readonly string[]>([]);
  const busy = sending.is === 'sending' || sending.is === 'notWritten';
  const { entering = {}, after = {} } = form.definition;
  const { filling } = state;
  const sheetAddress = addresses.sheet(workbookId, form.sheet.id);
  const rowAddress = useCallback((row: number) => `${sheetAddress}?row=${row}`, [sheetAddress]);

  useEffect(() => {
    if (!state.isLoading) focusFirstField();
  }, [state.isLoading]);
  useKeepUnsent(busy);
  useLandedActs(sending, setActs);
  // Nothing is lost by going on with the newer version where nothing was typed yet.
  useEffect(() => {
    if (isNewer && !state.begun && !busy) onTakeNewer();
  }, [isNewer, state.begun, busy, onTakeNewer]);

  const written = (landed: Landed, sent: Filling): void => {
    setSaid(afterMessage(state.prepared, sent, state.context.locale));
    setEarly(false);
    setErasing([]);
    if (record) onRecord(null);
    else state.next();
    if (isNewer) onTakeNewer();
    if (after.then === 'record') {
      void navigate(rowAddress(landed.row));
    } else if (after.then === 'close') {
      void navigate(addresses.contents(workbookId));
    } else focusFirstField();
  };

  const send = (isMeant: boolean): void => {
    if (busy || !mayEnter || state.isLoading) return;
    setSaid('');
    const { filling: now, sent } = state.submitNow();
    const [first] = now.verdicts;
    if (first) {
      forget();
      state.revealAll();
      if (entering.early === 'heldBack') setEarly(true);
      else state.jump(first.fieldId);
      return;
    }
    const then = (landed: Landed): void => written(landed, now);
    if (!record) {
      submit(sent, then);
      return;
    }
    const erased = erasedBy(record, state, now);
    if (erased.length > 0 && !isMeant) setErasing(erased);
    else update(record, sent, then);
  };
  const refusals = useMemo(() => refusalsOf(sending), [sending]);
  const showRefusals = useSteady(() => {
    const [first] = refusals.keys();
    if (first !== undefined) state.jump(first);
  });
  useEffect(() => showRefusals(), [refusals, showRefusals]);
  const onResend = useSteady((sent: SentSubmit) =>
    resend(sent, (landed) => written(landed, state.filling)),
  );
  const { unanswered } = kept;
  useEffect(() => {
    if (unanswered) onResend(unanswered);
  }, [unanswered, onResend]);
  const onSubmit = useSteady(() => send(false));
  const onNew = useSteady(() => onRecord(null));
  const onCompose = useSteady(() => void navigate(addresses.compose(workbookId, form.id)));

  const onClear = useSteady(() => {
    const filled = state.clear();
    if (state.begun) setActs((held) => [...held, { is: 'cleared', filled }]);
    forget();
    setSaid('');
    setEarly(false);
    focusFirstField();
  });

  const onUndo = useSteady(() => {
    const last = acts.at(-1);
    if (!last) return;
    setActs(acts.slice(0, -1));
    setSaid('');
    if (last.is === 'written') undo(last.landed);
    else {
      state.bringBack(last.filled);
      focusFirstField();
    }
  });
  const onTryNow = useSteady(tryNow);
  const onPutBack = useSteady(() => {
    if (sending.is === 'takenBack') undo(sending.landed);
  });

  const onKeyDown = (event: KeyboardEvent): void => {
    const target = event.target as HTMLElement;
    if (event.key !== 'Enter') return;
    if (event.ctrlKey || event.metaKey) {
      event.preventDefault();
      onSubmit();
    } else if (target.tagName !== 'TEXTAREA' && target.dataset['field'] !== undefined) {
      if (target.tagName === 'BUTTON') return;
      event.preventDefault();
      if (entering.enter === 'submits') onSubmit();
      else focusNextField(target);
    }
  };

  return (
    <Shell
      trail={[
        { label: workbook?.name ?? 'Workbook', to: addresses.contents(workbookId) },
        { label: form.sheet.name, to: addresses.sheet(workbookId, form.sheet.id) },
        { label: form.name },
      ]}
      bar={
        <DeskBar
          form={form}
          record={record}
          mayEnter={mayEnter}
          mayCompose={mayAs(role, 'analyst')}
          busy={busy}
          mayUndo={acts.length > 0}
          onSubmit={onSubmit}
          onNew={onNew}
          onClear={onClear}
          onUndo={onUndo}
          onCompose={onCompose}
        />
      }
      foot={
        <Box as="footer" flex="none" borderTopWidth="1px">
          <Box px={{ base: '3', md: '5' }} py="2">
            <SubmitWord
              sheetName={form.sheet.name}
              rowAddress={rowAddress}
              filling={filling}
              inputs={state.prepared.inputs}
              locale={state.context.locale}
              onJump={state.jump}
              sending={sending}
              said={said}
              isHeldBack={early}
              onTryNow={onTryNow}
              onPutBack={onPutBack}
            />
          </Box>
          <LandingRow
            form={form}
            filling={filling}
            locale={state.context.locale}
            columnId={columnId}
          />
        </Box>
      }
    >
      <Box p={{ base: '3', md: '4' }} onKeyDown={onKeyDown} data-desk-form>
        {gone !== '' && (
          <Box mb="3">
            <Notice tone="refuse">{gone} What you typed stands here still.</Notice>
          </Box>
        )}
        {kept.isBack && (
          <Box mb="3" role="status">
            <Notice tone="note">What you had begun is back. Clear begins afresh.</Notice>
          </Box>
        )}
        {begun.waiting > 0 && (
          <HStack mb="3" gap="3" role="status">
            <Notice tone="note">
              {sayCountOf(begun.waiting, 'other record')} you had begun{' '}
              {begun.waiting === 1 ? 'waits' : 'wait'} here.
            </Notice>
            <Button size="xs" variant="outline" onClick={begun.takeUp} disabled={busy}>
              Go on with it
            </Button>
          </HStack>
        )}
        {isNewer && (
          <HStack mb="3" gap="3" role="status">
            <Notice tone="note">This form was changed. You can go on with the one you have.</Notice>
            <Button size="xs" variant="outline" onClick={onTakeNewer}>
              Take the new one
            </Button>
          </HStack>
        )}
        {erasing.length > 0 && (
          <HStack mb="3" gap="3" role="alert">
            <Notice tone="ask">
              This update erases what is stored in {erasing.join(', ')}, as it is hidden now.
            </Notice>
            <Button size="xs" variant="outline" onClick={() => send(true)}>
              Update all the same
            </Button>
          </HStack>
        )}
        {!state.isLoading && (
          <FormBody
            form={form}
            state={state}
            readOnly={busy || !mayEnter}
            onEnterColumn={setColumnId}
            refusals={refusals}
          />
        )}
        {shownPages(form.definition, filling).length > 1 && (
          <Text mt="2" color="ink.soft" textAlign="center" fontSize="12.5px">
            Submit is always in the bar above.
          </Text>
        )}
      </Box>
    </Shell>
  );
}

/** A write that was answered can be taken back. */
function useLandedActs(
  sending: ReturnType<typeof useSubmit>['sending'],
  setActs: React.Dispatch<React.SetStateAction<readonly Act[]>>,
): void {
  const noted = useRef('');
  useEffect(() => {
    if (sending.is !== 'written' || noted.current === sending.landed.writeId) return;
    noted.current = sending.landed.writeId;
    setActs((held) => [...held, { is: 'written', landed: sending.landed }]);
  }, [sending, setActs]);
}

/** Asks before the page is left while something is not written yet. */
function useKeepUnsent(busy: boolean): void {
  useEffect(() => {
    if (!busy) return;
    const ask = (event: BeforeUnloadEvent): void => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [busy]);
}
