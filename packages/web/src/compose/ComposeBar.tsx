import type { DraftView } from '@varn/contract';
import { CheckCheck, Eye, ListTree, PencilRuler, Redo2, Settings2, Undo2 } from 'lucide-react';
import { memo } from 'react';
import { PlaceBar, type BarAction } from '../keys/PlaceBar';
import { KeepingWord } from './KeepingWord';
import type { Composing } from './useCompose';

/** How a form is looked at while it is laid out. */
export type View = 'page' | 'outline' | 'preview';

const COMPOSE_KEYS = [
  { keys: 'Enter', does: 'On the empty line: adds it. On a block: shows its details' },
  { keys: '↑ ↓', does: 'From block to block' },
  { keys: 'Alt+↑ Alt+↓', does: 'Moves a block' },
  { keys: 'Alt+→ Alt+←', does: 'Puts a field on the row before, or on its own' },
  { keys: '+', does: 'Adds a part after a block' },
  { keys: 'Delete', does: 'Takes a block off the form' },
  { keys: 'Escape', does: 'Goes to the bar' },
];

interface ComposeBarProps {
  readonly draft: DraftView;
  readonly composing: Composing;
  readonly view: View;
  readonly onView: (view: View) => void;
  readonly onPutToUse: () => void;
  /** Shows or hides what is said of the form as a whole. */
  readonly onForm: () => void;
}

/** Compose's bar. Given the same properties it is not drawn again, as at each key it would be. */
export const ComposeBar = memo(function ComposeBar(props: ComposeBarProps) {
  const { draft, composing } = props;
  return (
    <PlaceBar place="Compose" actions={actionsOf(props)} fixedKeys={COMPOSE_KEYS} compact>
      <KeepingWord composing={composing} version={draft.form.version} changed={draft.changed} />
    </PlaceBar>
  );
});

function actionsOf(props: ComposeBarProps): BarAction[] {
  const { draft, composing, view, onView } = props;
  const mayUse = draft.changed || composing.keeping.is !== 'kept' || composing.undo !== null;
  return [
    {
      id: 'use',
      label: 'Put to use',
      key: 'u',
      isWrite: true,
      run: props.onPutToUse,
      disabled: !mayUse,
      main: true,
      icon: <CheckCheck size={15} aria-hidden />,
    },
    {
      id: 'undo',
      label: 'Undo',
      key: 'z',
      run: () => composing.undo?.(),
      disabled: composing.undo === null,
      icon: <Undo2 size={15} aria-hidden />,
      brief: true,
    },
    {
      id: 'redo',
      label: 'Redo',
      key: 'y',
      run: () => composing.redo?.(),
      disabled: composing.redo === null,
      icon: <Redo2 size={15} aria-hidden />,
      brief: true,
    },
    {
      id: 'page',
      label: 'Page',
      key: 'p',
      run: () => onView('page'),
      disabled: view === 'page',
      icon: <PencilRuler size={15} aria-hidden />,
    },
    {
      id: 'outline',
      label: 'Outline',
      key: 'o',
      run: () => onView('outline'),
      disabled: view === 'outline',
      icon: <ListTree size={15} aria-hidden />,
    },
    {
      id: 'preview',
      label: 'Preview',
      key: 'v',
      run: () => onView('preview'),
      disabled: view === 'preview',
      icon: <Eye size={15} aria-hidden />,
    },
    {
      id: 'form',
      label: 'Form details',
      key: 'i',
      run: props.onForm,
      icon: <Settings2 size={15} aria-hidden />,
      brief: true,
    },
  ];
}
