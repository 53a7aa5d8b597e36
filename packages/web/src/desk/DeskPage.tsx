import { Box, Button, Text } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import { mayAs, type Role } from '@varn/contract/roles';
import { useState, type KeyboardEvent } from 'react';
import { useNavigate, useParams } from 'react-router';
import { ApiRefusal, sayError } from '../api/client';
import { useForm, useWorkbook } from '../api/resources';
import { useBegunWork, type Begun } from '../api/useBegunWork';
import { addresses } from '../addresses';
import { focusNextField } from '../form/focus';
import { FormBody } from '../form/FormBody';
import { shownPages } from '../form/useFilling';
import { useSteady } from '../form/useSteady';
import { Notice } from '../ui/Notice';
import { Arriving } from '../frame/Arriving';
import { Shell } from '../frame/Shell';
import { DeskBar } from './DeskBar';
import { LandingRow } from './LandingRow';
import { DeskNotices } from './DeskNotices';
import { lastRecord, type OpenRecord } from './openRecord';
import { SubmitWord } from './SubmitWord';
import type { BegunRecord } from './useBegunRecord';
import { useDesk, type Desk, type DeskProps } from './useDesk';

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
  const [record, setRecord] = useState<OpenRecord | null>(() => {
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

function AtDesk(props: DeskProps) {
  const { form, role, record, onRecord } = props;
  const { workbookId = '' } = useParams();
  const navigate = useNavigate();
  const { data: workbook } = useWorkbook(workbookId);
  const desk = useDesk(props);
  const { filled, busy, mayEnter } = desk;
  const [columnId, setColumnId] = useState<string | null>(null);
  const onNew = useSteady(() => onRecord(null));
  const onCompose = useSteady(() => void navigate(addresses.compose(workbookId, form.id)));
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
          mayUndo={desk.acts.length > 0}
          onSubmit={desk.submit}
          onNew={onNew}
          onClear={desk.clear}
          onUndo={desk.takeBack}
          onCompose={onCompose}
        />
      }
      foot={<DeskFoot form={form} desk={desk} columnId={columnId} />}
    >
      <Box
        p={{ base: '3', md: '4' }}
        onKeyDown={(event) => deskKey(event, form, desk.submit)}
        data-desk-form
      >
        <DeskNotices desk={desk} props={props} />
        {!filled.isLoading && (
          <FormBody
            form={form}
            state={filled}
            readOnly={busy || !mayEnter}
            onEnterColumn={setColumnId}
            refusals={desk.refusals}
          />
        )}
        {shownPages(form.definition, filled.filling).length > 1 && (
          <Text mt="2" color="ink.soft" textAlign="center" fontSize="12.5px">
            Submit is always in the bar above.
          </Text>
        )}
      </Box>
    </Shell>
  );
}

interface DeskFootProps {
  readonly form: FormView;
  readonly desk: Desk;
  /** The column one is at, which the landing row shows. */
  readonly columnId: string | null;
}

/** The foot: what became of the last submit, and the row about to be written. */
function DeskFoot({ form, desk, columnId }: DeskFootProps) {
  const { filling, prepared, context, jump } = desk.filled;
  const { locale } = context;
  return (
    <Box as="footer" flex="none" borderTopWidth="1px">
      <Box px={{ base: '3', md: '5' }} py="2">
        <SubmitWord
          sheetName={form.sheet.name}
          rowAddress={desk.rowAddress}
          filling={filling}
          inputs={prepared.inputs}
          locale={locale}
          onJump={jump}
          sending={desk.sending}
          said={desk.said}
          isHeldBack={desk.step.is === 'heldBack'}
          onTryNow={desk.tryNow}
          onPutBack={desk.putBack}
        />
      </Box>
      <LandingRow form={form} filling={filling} locale={locale} columnId={columnId} />
    </Box>
  );
}

/** Enter goes on to the next field, or submits; with Ctrl it submits from anywhere. */
function deskKey(event: KeyboardEvent, { definition }: FormView, submit: () => void): void {
  const target = event.target as HTMLElement;
  if (event.key !== 'Enter') return;
  if (event.ctrlKey || event.metaKey) {
    event.preventDefault();
    submit();
  } else if (target.tagName !== 'TEXTAREA' && target.dataset['field'] !== undefined) {
    if (target.tagName === 'BUTTON') return;
    event.preventDefault();
    if (definition.entering?.enter === 'submits') submit();
    else focusNextField(target);
  }
}
