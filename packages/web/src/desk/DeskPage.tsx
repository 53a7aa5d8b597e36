import { Box, Button, Text } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import { mayAs, type Role } from '@varn/contract/roles';
import { kindOf, NO_QUESTION } from '@varn/core';
import { lazy, Suspense, useEffect, useMemo, useState } from 'react';
import { useLocation, useNavigate, useParams } from 'react-router';
import { ApiRefusal, sayError } from '../api/client';
import { useForm, useWorkbook } from '../api/resources';
import { useBegunWork, type Begun } from '../api/useBegunWork';
import { addresses } from '../addresses';
import { focusFirstField } from '../form/focus';
import { focusBar, isBarFocused } from '../keys/focusBar';
import { FormBody } from '../form/FormBody';
import { shownPages } from '../form/useFilling';
import { useSteady } from '../form/useSteady';
import { Notice } from '../ui/Notice';
import { Arriving } from '../frame/Arriving';
import { Shell } from '../frame/Shell';
import { Asking } from './Asking';
import { DeskBar } from './DeskBar';
import { DeskFoot } from './DeskFoot';
import { deskKey, stepByKey } from './deskKeys';
import { DeskNotices } from './DeskNotices';
import { FindRecords } from './FindRecords';
import type { OpenRecord } from './openRecord';
import { SettlingPart } from './Settling';
import { SessionLine } from './SessionLine';
import { StepBar } from './StepBar';
import { KnownKey } from './KnownKey';
import { LeftBehind } from './LeftBehind';
import { PrintedRecord } from './Printed';
import { QuestionLine } from './QuestionLine';
import type { BegunRecord } from './useBegunRecord';
import { useDesk, type Desk, type DeskProps } from './useDesk';
import { openedFirst, placeOf, useDeskPlace, type DeskPlace } from './useDeskPlace';
import { useSecretWords } from './useSecretWords';

const RecordHistory = lazy(async () => ({
  default: (await import('./RecordHistory')).RecordHistory,
}));

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
    ? 'This form was deleted. The workbook’s analyst can restore it.'
    : sayError(refusal);
}

/** Goes on with what was begun here and left, or begins anew. */
function Held(props: { form: FormView; role: Role; gone: string }) {
  const { form, role } = props;
  const { search } = useLocation();
  const isWanted = ({ record, sent }: BegunRecord): boolean =>
    sent !== undefined || (record?.id ?? null) === openedFirst(form, search);
  const begun = useBegunWork<BegunRecord>(`form.${form.id}`, mayAs(role, 'clerk'), isWanted);
  if (!begun.isReady) return <Arriving trail={[{ label: form.name }]} error={undefined} />;
  return <Placed {...props} begun={begun} />;
}

interface PlacedProps {
  readonly form: FormView;
  readonly role: Role;
  readonly gone: string;
  readonly begun: Begun<BegunRecord>;
}

/** Where one is among the records: drawn anew for each, as it is opened. */
function Placed(props: PlacedProps) {
  const place = useDeskPlace(props.form, props.begun);
  return <InHand key={props.begun.visit} {...props} place={place} />;
}

/** Keeps to the version that is being filled in, until the next record or until it is asked for. */
function InHand({ form, role, gone, begun, place }: PlacedProps & { place: DeskPlace }) {
  const [held, setHeld] = useState(form);
  const [record] = useState(begun.found ? begun.found.record : place.opened.record);
  const isNewer = form.version !== held.version;
  const shown = { ...form, definition: held.definition, version: held.version };
  return (
    <AtDesk
      key={held.version}
      form={isNewer ? shown : form}
      role={role}
      gone={gone}
      isNewer={isNewer}
      onTakeNewer={() => setHeld(form)}
      record={record}
      place={place}
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
        <Notice tone="note">This form is not in use yet.</Notice>
        {mayCompose && (
          <Button mt="4" onClick={() => void navigate(addresses.compose(workbookId, form.id))}>
            Create the form
          </Button>
        )}
      </Box>
    </Shell>
  );
}

function AtDesk(props: DeskProps) {
  const { form, role, record, place } = props;
  const { workbookId = '' } = useParams();
  const navigate = useNavigate();
  const { data: workbook } = useWorkbook(workbookId);
  const desk = useDesk(props);
  const { mayEnter, busy } = desk;
  const [columnId, setColumnId] = useState<string | null>(null);
  const [isFinding, setFinding] = useState(false);
  const [isHistoryOpen, setHistoryOpen] = useState(false);
  const { isAsking, question } = place;
  const onCompose = useSteady(() => void navigate(addresses.compose(workbookId, form.id)));
  const onNew = useSteady(() => {
    if (record) place.goToNew();
    else place.setAsking(false);
  });
  const onFind = useSteady(() => setFinding(true));
  const { sheet } = form;
  const { locale } = desk.filled.context;
  // Between two records the page has the focus: keys that go on are heard there as well.
  const onPageKey = useSteady((event: globalThis.KeyboardEvent) => {
    if (event.defaultPrevented || !(event.target instanceof Element)) return;
    const isCtrl = event.ctrlKey || event.metaKey;
    if (event.key === 'Enter' && isCtrl && !event.repeat && !isAsking) {
      // From anywhere but what has a Submit of its own.
      if (event.target.closest('form, [role=dialog]') === null) desk.submit();
      return;
    }
    if (!event.target.matches('body, #page') && !isBarFocused()) return;
    if (event.key === 'Escape') focusBar();
    else if (!isAsking) stepByKey(event, desk, place);
  });
  useEffect(() => {
    window.addEventListener('keydown', onPageKey);
    return () => window.removeEventListener('keydown', onPageKey);
  }, [onPageKey]);
  return (
    <Shell
      trail={[
        { label: workbook?.name ?? 'Workbook', to: addresses.contents(workbookId) },
        { label: sheet.name, to: addresses.sheet(workbookId, sheet.id) },
        { label: form.name },
      ]}
      bar={
        <>
          <DeskBar
            form={form}
            record={record}
            isAsking={isAsking}
            mayEnter={mayEnter}
            mayCompose={mayAs(role, 'analyst')}
            busy={busy}
            mayUndo={desk.acts.length > 0 && desk.onItsWay === 0}
            onSubmit={desk.submit}
            onNew={onNew}
            onClear={desk.clear}
            onUndo={desk.takeBack}
            onFind={onFind}
            onLast={desk.openLast}
            onCompose={onCompose}
          />
          {isFinding && (
            <FindRecords
              sheet={sheet}
              locale={locale}
              onOpen={(recordId) => {
                setFinding(false);
                place.goTo(recordId);
              }}
              onShowAll={(text) => {
                setFinding(false);
                place.ask({ text, filters: [] });
                place.showFirst({ text, filters: [] });
              }}
              onAsk={() => {
                setFinding(false);
                place.setAsking(true);
              }}
              onNewWith={mayEnter ? (id, text) => newWith(desk, place, id, text) : undefined}
              onClose={() => {
                setFinding(false);
                focusFirstField();
              }}
            />
          )}
        </>
      }
      margin={
        record && isHistoryOpen ? (
          <Suspense>
            <RecordHistory
              record={desk.settling.base ?? record}
              sheet={sheet}
              locale={locale}
              timeZone={form.timeZone}
              mayEnter={mayEnter}
              onBroughtBack={desk.broughtBack}
              onClose={() => setHistoryOpen(false)}
            />
          </Suspense>
        ) : undefined
      }
      foot={
        // With the form: what comes later would push it.
        !desk.filled.isLoading && (
          <DeskFoot form={form} desk={desk} place={place} columnId={columnId} record={record} />
        )
      }
    >
      <Box
        p={{ base: '3', md: '4' }}
        onKeyDown={(event) => {
          if (!isAsking) deskKey(event, { form, desk, place });
        }}
        data-desk-form
      >
        {isAsking ? (
          <Asking
            form={form}
            lists={desk.filled.lists}
            address={place.address}
            now={desk.filled.context.now}
            question={question}
            onAsk={place.ask}
            onDone={() => place.showFirst(question)}
          />
        ) : (
          <Filled
            props={props}
            desk={desk}
            onEnterColumn={setColumnId}
            history={{ isHistoryOpen, setHistoryOpen }}
          />
        )}
      </Box>
    </Shell>
  );
}

/** Begins a new record with a key that no record has. */
function newWith(desk: Desk, place: DeskPlace, columnId: string, text: string): void {
  const input = desk.filled.prepared.inputs.find(({ column }) => column.id === columnId);
  if (input) place.goToNew({ copied: { answers: { [input.id]: text }, from: '' } });
}

interface FilledProps {
  readonly props: DeskProps;
  readonly desk: Desk;
  readonly onEnterColumn: (columnId: string) => void;
  readonly history: {
    readonly isHistoryOpen: boolean;
    readonly setHistoryOpen: (isOpen: boolean) => void;
  };
}

/** The form with a record in it, and what is to be told of that record. */
function Filled({ props, desk, onEnterColumn, history }: FilledProps) {
  const { form, record, place } = props;
  const { filled, busy, mayEnter, settling } = desk;
  const { question, view } = place;
  const base = settling.base ?? record;
  const filledIn = useMemo(
    () => (base ? filledInOf(base, form.sheet) : undefined),
    [base, form.sheet],
  );
  const opened = placeOf(place, record);
  const words = useSecretWords(form, filled);
  const refusals = useMemo(
    () => new Map([...words.refused, ...desk.refusals]),
    [words.refused, desk.refusals],
  );
  return (
    <>
      {view !== '' && (
        <QuestionLine
          form={form}
          question={question}
          address={place.address}
          onAsk={place.ask}
          onEdit={() => place.setAsking(true)}
          onEmpty={() => {
            place.ask(NO_QUESTION);
            focusFirstField();
          }}
        />
      )}
      <StepBar
        opened={opened}
        name={desk.name}
        isAmongMatches={view !== ''}
        changed={desk.stored.size}
        mayEnter={mayEnter}
        busy={busy}
        onStep={place.step}
        onDelete={desk.remove}
        onDuplicate={desk.duplicate}
        onHistory={() => history.setHistoryOpen(!history.isHistoryOpen)}
        isHistoryOpen={history.isHistoryOpen}
      />
      {!record && mayEnter && <SessionLine sheetId={form.sheet.id} onOpen={place.goTo} />}
      <KnownKey form={form} filled={filled} isOn={!record && mayEnter} onOpen={place.goTo} />
      <DeskNotices desk={desk} props={props} />
      <LeftBehind filled={filled} />
      <SettlingPart
        settling={settling}
        inputs={filled.prepared.inputs}
        locale={form.locale}
        timeZone={form.timeZone}
        busy={busy}
        onRestore={desk.restoreAndUpdate}
        onEnterAsNew={desk.enterAsNew}
      />
      {!filled.isLoading && (
        <FormBody
          form={form}
          state={{ ...filled, leave: words.leave }}
          readOnly={busy || !mayEnter}
          onEnterColumn={onEnterColumn}
          refusals={refusals}
          stored={desk.stored}
          filledIn={filledIn}
        />
      )}
      {base && (
        <PrintedRecord form={form} record={base} name={desk.name} locale={filled.context.locale} />
      )}
      {!filled.isLoading && shownPages(form.definition, filled.filling).length > 1 && (
        <Text mt="2" color="ink.soft" textAlign="center" fontSize="12.5px">
          Submit is always in the bar above.
        </Text>
      )}
    </>
  );
}

/** The cells that Varn filled in. */
function filledInOf({ cells }: OpenRecord, { columns }: FormView['sheet']): OpenRecord['cells'] {
  const ids = columns.filter((column) => kindOf(column).filledBy === 'varn').map(({ id }) => id);
  return Object.fromEntries(ids.map((id) => [id, cells[id] ?? null]));
}
