import { Box, Button, HStack, Text } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { mayAs, type Role } from '@varn/contract/roles';
import { isTyped, kindOf, NO_QUESTION, sayCountOf } from '@varn/core';
import { useEffect, useMemo, useState, type KeyboardEvent } from 'react';
import { useNavigate, useParams } from 'react-router';
import { ApiRefusal, sayError } from '../api/client';
import { useForm, useWorkbook } from '../api/resources';
import { useBegunWork, type Begun } from '../api/useBegunWork';
import { addresses } from '../addresses';
import { focusFirstField, focusNextField } from '../form/focus';
import { focusBar, isBarFocused } from '../keys/focusBar';
import { FormBody } from '../form/FormBody';
import { shownPages } from '../form/useFilling';
import { useSteady } from '../form/useSteady';
import { Notice } from '../ui/Notice';
import { Arriving } from '../frame/Arriving';
import { Shell } from '../frame/Shell';
import { Asking, QuestionLine } from './Asking';
import { ChangeAll, RemoveAll } from './ChangeAll';
import { DeskBar } from './DeskBar';
import { DeskNotices } from './DeskNotices';
import { FindRecords } from './FindRecords';
import { LandingRow } from './LandingRow';
import { ManyDone } from './ManyDone';
import { Matches } from './Matches';
import type { OpenRecord } from './openRecord';
import { RecordHistory } from './RecordHistory';
import { SettlingPart } from './Settling';
import { StepBar, Steps } from './StepBar';
import { SubmitWord } from './SubmitWord';
import type { BegunRecord } from './useBegunRecord';
import { useCounts } from './useCounts';
import { useDesk, type Desk, type DeskProps } from './useDesk';
import { useDeskPlace, viewOf, type DeskPlace, type Opened } from './useDeskPlace';

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
  // Between two records nothing has the focus: keys that go on are heard there as well.
  const onPageKey = useSteady((event: globalThis.KeyboardEvent) => {
    if (event.target !== document.body && !isBarFocused()) return;
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
            mayUndo={desk.acts.length > 0}
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
          <RecordHistory
            record={desk.settling.base ?? record}
            sheet={sheet}
            locale={locale}
            timeZone={form.timeZone}
            mayEnter={mayEnter}
            onBroughtBack={desk.broughtBack}
            onClose={() => setHistoryOpen(false)}
          />
        ) : undefined
      }
      foot={<DeskFoot form={form} desk={desk} place={place} columnId={columnId} record={record} />}
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
  return (
    <>
      {view !== '' && (
        <QuestionLine
          sheet={form.sheet}
          question={question}
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
      <DeskNotices desk={desk} props={props} />
      <SettlingPart
        settling={settling}
        inputs={filled.prepared.inputs}
        locale={form.locale}
        timeZone={form.timeZone}
        onEnterAsNew={desk.enterAsNew}
      />
      {!filled.isLoading && (
        <FormBody
          form={form}
          state={filled}
          readOnly={busy || !mayEnter}
          onEnterColumn={onEnterColumn}
          refusals={desk.refusals}
          stored={desk.stored}
          filledIn={filledIn}
        />
      )}
      {shownPages(form.definition, filled.filling).length > 1 && (
        <Text mt="2" color="ink.soft" textAlign="center" fontSize="12.5px">
          Submit is always in the bar above.
        </Text>
      )}
    </>
  );
}

/** Where the record in the form stands, as far as that is known of this one. */
function placeOf({ opened }: DeskPlace, record: OpenRecord | null): Opened {
  return { ...opened, record, at: opened.record?.id === record?.id ? opened.at : null };
}

/** The cells that Varn filled in. */
function filledInOf({ cells }: OpenRecord, { columns }: FormView['sheet']): OpenRecord['cells'] {
  const ids = columns.filter((column) => kindOf(column).filledBy === 'varn').map(({ id }) => id);
  return Object.fromEntries(ids.map((id) => [id, cells[id] ?? null]));
}

interface DeskFootProps {
  readonly form: FormView;
  readonly desk: Desk;
  readonly place: DeskPlace;
  readonly record: OpenRecord | null;
  /** The column one is at, which the landing row shows. */
  readonly columnId: string | null;
}

/** The foot: what became of the last submit, and the row about to be written, or the matches. */
function DeskFoot({ form, desk, place, record, columnId }: DeskFootProps) {
  const { filling, prepared, context, jump } = desk.filled;
  const { locale } = context;
  const { isAsking, view } = place;
  const base = desk.settling.base ?? record;
  const landing = useMemo(() => {
    if (!base) return null;
    const typed = prepared.inputs.filter(({ column }) => isTyped(column));
    return { ...base, written: new Set(typed.map(({ column }) => column.id)) };
  }, [base, prepared]);
  return (
    <Box as="footer" flex="none" borderTopWidth="1px">
      {!isAsking && (
        <Box px={{ base: '3', md: '5' }} py="2">
          <SubmitWord
            sheetName={form.sheet.name}
            onOpenRow={desk.openRow}
            filling={filling}
            inputs={prepared.inputs}
            locale={locale}
            onJump={jump}
            sending={desk.sending}
            said={desk.said}
            isHeldBack={desk.step.is === 'heldBack'}
            ready={!record ? 'Ready to submit' : desk.stored.size > 0 ? 'Ready to update' : ''}
            onTryNow={desk.tryNow}
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
        <MatchesFoot form={form} desk={desk} place={place} record={record} />
      )}
    </Box>
  );
}

/** The matches with what can be done to all of them. */
function MatchesFoot({ form, desk, place, record }: Omit<DeskFootProps, 'columnId'>) {
  const { sheet } = form;
  const { counts } = useCounts(sheet.id, place.question, sheet.count);
  const [acting, setActing] = useState<'change' | 'remove' | null>(null);
  const [done, setDone] = useState<{ says: string; writeId: string } | null>(null);
  const count = counts?.count ?? 0;
  const acts = {
    sheet,
    view: viewOf(place.question),
    count,
    onDone: (says: string, writeId: string) => {
      setActing(null);
      setDone({ says, writeId });
    },
    onClose: () => setActing(null),
  };
  return (
    <Box px={{ base: '0', md: '0' }}>
      <HStack px={{ base: '3', md: '5' }} py="1.5" gap="2" wrap="wrap">
        <Text fontWeight="600">{sayCountOf(count, 'match', 'matches')}</Text>
        {desk.mayEnter && count > 0 && (
          <>
            <Button size="xs" variant="outline" minH="28px" onClick={() => setActing('change')}>
              Change all
            </Button>
            <Button size="xs" variant="outline" minH="28px" onClick={() => setActing('remove')}>
              Delete all
            </Button>
          </>
        )}
        {count > 0 && (
          <Button asChild size="xs" variant="outline" minH="28px">
            <a href={paths.csv(sheet.id, 'on', place.view)} download>
              Take away as CSV
            </a>
          </Button>
        )}
        {done && (
          <ManyDone {...done} workbookId={sheet.workbookId} onUndone={() => setDone(null)} />
        )}
      </HStack>
      {acting !== null && (
        <Box px={{ base: '3', md: '5' }}>
          {acting === 'change' ? <ChangeAll {...acts} /> : <RemoveAll {...acts} />}
        </Box>
      )}
      <Matches
        sheet={sheet}
        locale={desk.filled.context.locale}
        view={place.view}
        openId={record?.id ?? null}
        onOpen={place.step}
        order={place.order}
        onOrder={place.setOrder}
      />
    </Box>
  );
}

interface DeskKeys {
  readonly form: FormView;
  readonly desk: Desk;
  readonly place: DeskPlace;
}

/**
 * Enter goes on to the next field, or submits; with Ctrl it submits from anywhere. PageUp and
 * PageDown step through the records, but in what uses these keys itself.
 */
function deskKey(event: KeyboardEvent, { form: { definition }, desk, place }: DeskKeys): void {
  const target = event.target as HTMLElement;
  if (event.defaultPrevented) return;
  if (!usesPages(target) && stepByKey(event, desk, place)) return;
  if (event.key !== 'Enter') return;
  if (event.ctrlKey || event.metaKey) {
    event.preventDefault();
    if (event.repeat) return;
    if (event.shiftKey) desk.submitAndStep();
    else desk.submit();
  } else if (target.tagName !== 'TEXTAREA' && target.dataset['field'] !== undefined) {
    if (target.tagName === 'BUTTON') return;
    event.preventDefault();
    if (definition.entering?.enter === 'submits') desk.submit();
    else focusNextField(target);
  }
}

/** Steps back or on where that key was pressed. @returns whether it was */
function stepByKey(
  event: Pick<globalThis.KeyboardEvent, 'key' | 'repeat' | 'preventDefault'>,
  { busy }: Desk,
  place: DeskPlace,
): boolean {
  if (event.key !== 'PageUp' && event.key !== 'PageDown') return false;
  event.preventDefault();
  if (!busy && !event.repeat) place.step(event.key === 'PageUp' ? 'back' : 'on');
  return true;
}

/** Whether what has the focus goes through pages of its own. */
const usesPages = (target: HTMLElement): boolean =>
  target.tagName === 'TEXTAREA' ||
  target.getAttribute('aria-expanded') === 'true' ||
  target.closest('[role=dialog], [role=grid], [role=listbox], [role=slider]') !== null;
