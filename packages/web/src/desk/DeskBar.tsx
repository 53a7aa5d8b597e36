import { Badge, Box, Text, useMediaQuery } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import { sayCount, sayCountOf } from '@varn/core';
import {
  Eraser,
  FilePlus2,
  History,
  PencilRuler,
  Search,
  SendHorizontal,
  Undo2,
} from 'lucide-react';
import { memo } from 'react';
import { PlaceBar, type BarAction } from '../keys/PlaceBar';
import { later } from '../ui/later';
import type { OpenRecord } from './openRecord';

const name = later(async () => (await import('./FormName')).FormName);
/** Where the bar has room for the form’s name. */
const WIDE = '(min-width: 96rem)';

const DESK_KEYS = [
  { keys: 'PageUp / PageDown', does: 'The record before, the one after' },
  { keys: 'Ctrl+Shift+Enter', does: 'Update a stored record, and step on' },
  { keys: 'Alt+B', does: 'Restore the stored value, in a field that differs' },
  { keys: 'Enter', does: 'Next field, and from the last to Submit' },
  { keys: 'Ctrl+Enter', does: 'Submit from any field' },
  { keys: 'Escape', does: 'Go to the bar' },
  { keys: 'Alt+T', does: 'Today or now, in a field of that kind' },
  { keys: 'Alt+↓', does: 'Open the calendar of a date' },
  { keys: 'Letters, 1 to 9', does: 'Pick an answer that is in sight, or a step' },
  { keys: 'Backspace', does: 'Remove the last answer chosen' },
];

interface DeskBarProps {
  readonly form: FormView;
  /** The stored record that is being corrected; `null` for a new one. */
  readonly record: OpenRecord | null;
  readonly mayEnter: boolean;
  readonly mayCompose: boolean;
  /** Whether something is on its way to the server. */
  readonly busy: boolean;
  readonly mayUndo: boolean;
  readonly onSubmit: () => void;
  readonly onNew: () => void;
  readonly onClear: () => void;
  readonly onUndo: () => void;
  readonly onFind: () => void;
  readonly onLast: () => void;
  /** Whether the form is a question now: nothing is submitted. */
  readonly isAsking: boolean;
  readonly onCompose: () => void;
}

/** The desk's bar. Given the same properties it is not drawn again, as at each key it would be. */
export const DeskBar = memo(function DeskBar(props: DeskBarProps) {
  const { form, record, mayEnter, mayCompose } = props;
  const [isWide] = useMediaQuery([WIDE], { ssr: false });
  return (
    <PlaceBar place="Desk" actions={actionsOf(props)} fixedKeys={DESK_KEYS} compact>
      <Badge variant="outline" color="brass" borderColor="brass" hideBelow="md">
        {props.isAsking
          ? 'Question'
          : record
            ? `Stored record in row ${sayCount(record.row)}`
            : mayEnter
              ? 'New record'
              : 'Read only'}
      </Badge>
      <Text color="ink.soft" hideBelow="2xl">
        {sayCountOf(form.sheet.count, 'record')} in {form.sheet.name}
      </Text>
      <Box flex="1" />
      {mayCompose && isWide && <name.Part form={form} />}
    </PlaceBar>
  );
});

function actionsOf(props: DeskBarProps): BarAction[] {
  const { record, busy } = props;
  const look: BarAction[] = [
    {
      id: 'find',
      label: 'Find',
      key: 'f',
      run: props.onFind,
      icon: <Search size={15} aria-hidden />,
    },
    {
      id: 'last',
      label: 'Last one',
      key: 'l',
      run: props.onLast,
      disabled: busy,
      icon: <History size={15} aria-hidden />,
    },
  ];
  if (props.isAsking) {
    return [
      {
        id: 'new',
        label: 'New record',
        key: 'n',
        run: props.onNew,
        icon: <FilePlus2 size={15} aria-hidden />,
      },
      ...look,
    ];
  }
  return [
    {
      id: 'submit',
      label: record ? 'Update' : 'Submit',
      key: 's',
      isWrite: true,
      run: props.onSubmit,
      disabled: busy || !props.mayEnter,
      main: true,
      icon: <SendHorizontal size={15} aria-hidden />,
    },
    record
      ? {
          id: 'new',
          label: 'New',
          key: 'n',
          run: props.onNew,
          disabled: busy,
          icon: <FilePlus2 size={15} aria-hidden />,
        }
      : {
          id: 'clear',
          label: 'Clear',
          key: 'c',
          isWrite: true,
          run: props.onClear,
          disabled: busy,
          icon: <Eraser size={15} aria-hidden />,
        },
    {
      id: 'undo',
      label: 'Undo',
      key: 'z',
      isWrite: true,
      run: props.onUndo,
      disabled: busy || !props.mayUndo,
      icon: <Undo2 size={15} aria-hidden />,
    },
    ...look,
    ...(props.mayCompose
      ? [
          {
            id: 'compose',
            label: 'Compose',
            key: 'm',
            run: props.onCompose,
            icon: <PencilRuler size={15} aria-hidden />,
            brief: true,
          },
        ]
      : []),
  ];
}
