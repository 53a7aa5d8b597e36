import { Badge, Box, Text } from '@chakra-ui/react';
import type { FormView, Landed } from '@varn/contract';
import { mayAs } from '@varn/contract/roles';
import { sayCountOf, type Answers } from '@varn/core';
import { Eraser, SendHorizontal, Undo2 } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { useParams } from 'react-router';
import { sayError } from '../api/client';
import { useForm, useWorkbook } from '../api/resources';
import { addresses } from '../addresses';
import { PlaceBar, type BarAction } from '../keys/PlaceBar';
import { Notice } from '../ui/Notice';
import { Shell } from '../ui/Shell';
import { Waiting } from '../ui/Waiting';
import { DeskForm } from './DeskForm';
import { focusField, focusFirstField } from './focus';
import { FormName } from './FormName';
import { LandingRow } from './LandingRow';
import { SubmitWord } from './SubmitWord';
import { useDesk } from './useDesk';
import { useSubmit } from './useSubmit';

const DESK_KEYS = [
  { keys: 'Enter', does: 'Next field, and from the last to Submit' },
  { keys: 'Ctrl+Enter', does: 'Submit from any field' },
  { keys: 'Escape', does: 'Leave the field for the bar' },
  { keys: 'Y / N / Backspace', does: 'Answer a yes/no field, take the answer back' },
];

/** The desk: where records are entered into a sheet through a form. */
export function DeskPage() {
  const { workbookId = '', formId } = useParams();
  const { data: form, error } = useForm(formId);
  const { data: workbook } = useWorkbook(workbookId);
  if (form && workbook && !error) {
    return <AtDesk key={form.id} form={form} mayEnter={mayAs(workbook.role, 'clerk')} />;
  }
  return (
    <Shell trail={[{ label: 'Form' }]}>
      {error ? (
        <Box p="6">
          <Notice tone="stop">{sayError(error)}</Notice>
        </Box>
      ) : (
        <Waiting />
      )}
    </Shell>
  );
}

/** What was done last and can be taken back. */
type Act =
  | { readonly is: 'cleared'; readonly answers: Answers }
  | { readonly is: 'written'; readonly landed: Landed };

function AtDesk({ form, mayEnter }: { form: FormView; mayEnter: boolean }) {
  const { workbookId = '' } = useParams();
  const { data: workbook } = useWorkbook(workbookId);
  const desk = useDesk(form);
  const { sending, submit, undo, tryNow, forget } = useSubmit(form);
  const [columnId, setColumnId] = useState<string | null>(null);
  const [acts, setActs] = useState<readonly Act[]>([]);
  const busy = sending.is === 'sending' || sending.is === 'notWritten';

  useEffect(focusFirstField, []);
  useKeepUnsent(busy);
  useLandedActs(sending, setActs);

  const onSubmit = (): void => {
    if (busy || !mayEnter) return;
    const [first] = desk.filling.verdicts;
    if (first) {
      forget();
      desk.revealAll();
      focusField(first.fieldId);
      return;
    }
    submit(desk.answers, desk.meant, () => {
      desk.clear();
      focusFirstField();
    });
  };

  const onClear = (): void => {
    const answers = desk.clear();
    if (desk.begun) setActs((held) => [...held, { is: 'cleared', answers }]);
    forget();
    focusFirstField();
  };

  const onUndo = (): void => {
    const last = acts.at(-1);
    if (!last) return;
    setActs(acts.slice(0, -1));
    if (last.is === 'written') undo(last.landed);
    else {
      desk.bringBack(last.answers);
      focusFirstField();
    }
  };

  const actions: BarAction[] = [
    {
      id: 'submit',
      label: 'Submit',
      key: 's',
      run: onSubmit,
      disabled: busy || !mayEnter,
      main: true,
      icon: <SendHorizontal size={15} aria-hidden />,
    },
    {
      id: 'clear',
      label: 'Clear',
      key: 'c',
      run: onClear,
      disabled: busy,
      icon: <Eraser size={15} aria-hidden />,
    },
    {
      id: 'undo',
      label: 'Undo',
      key: 'z',
      run: onUndo,
      disabled: busy || acts.length === 0,
      icon: <Undo2 size={15} aria-hidden />,
    },
  ];

  return (
    <Shell
      trail={[
        { label: workbook?.name ?? 'Workbook', to: addresses.contents(workbookId) },
        { label: form.sheet.name, to: addresses.sheet(workbookId, form.sheet.id) },
        { label: form.name },
      ]}
      bar={
        <PlaceBar place="Desk" actions={actions} fixedKeys={DESK_KEYS} compact>
          <Badge variant="outline" color="brass" borderColor="brass" hideBelow="md">
            {mayEnter ? 'New record' : 'Reading only'}
          </Badge>
          <Text color="ink.soft" hideBelow="md">
            {sayCountOf(form.sheet.count, 'record')} in {form.sheet.name}
          </Text>
          <Box flex="1" />
          {workbook && mayAs(workbook.role, 'analyst') && <FormName form={form} />}
        </PlaceBar>
      }
      foot={
        <Box as="footer" flex="none" borderTopWidth="1px">
          <Box px={{ base: '3', md: '5' }} py="2">
            <SubmitWord
              form={form}
              desk={desk}
              sending={sending}
              onTryNow={tryNow}
              onPutBack={() => sending.is === 'takenBack' && undo(sending.landed)}
            />
          </Box>
          <LandingRow form={form} desk={desk} columnId={columnId} />
        </Box>
      }
    >
      <DeskForm
        form={form}
        desk={desk}
        readOnly={busy || !mayEnter}
        onSubmit={onSubmit}
        onEnterColumn={setColumnId}
      />
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
