import { isSecret, type Input, type ListItem } from '@varn/core';
import { CircleAlert, Info } from 'lucide-react';
import { memo, useCallback, useEffect, useLayoutEffect, useRef } from 'react';
import { afterPointer } from '../ui/afterPointer';
import { announce } from '../ui/announce';
import { CONTROL_PARTS } from './controls';
import { focusField, selectTyped } from './focus';
import './fields.css';

/** What fields tell of, and what they all know. */
export interface FieldActions {
  readonly onType: (inputId: string, text: string) => void;
  readonly onLeave: (inputId: string) => void;
  readonly onMean: (inputId: string) => void;
  readonly onEnter: (columnId: string) => void;
}

/** What stands in an input now, and what is said of it. */
export interface InputState {
  readonly text: string;
  /** What is wrong and what to do, when that is to be told. */
  readonly message: string;
  /** Whether it is only asked about: the answer can be meant. */
  readonly asked: boolean;
  /** What is only noted of the answer. */
  readonly note: string;
  /** What its rules take, told in the field while nothing is typed. */
  readonly takes: string;
  readonly required: boolean;
  /** Whether what stands there was kept from the record before. */
  readonly kept: boolean;
  /** What stands where nobody types. */
  readonly shown: string;
  /** Whether a starting value stands there that nobody touched. */
  readonly untouched: boolean;
  /** Whether its value is being looked up. */
  readonly awaited: boolean;
  /** What is suggested while the field is blank. */
  readonly suggested: string;
  /** What is stored, where something else stands here now; `null` where nothing differs. */
  readonly stored: string | null;
  /** What a field of choices offers now, and why nothing where its list is not there. */
  readonly items: readonly ListItem[];
  readonly listProblem: string | undefined;
}

interface FormFieldProps extends InputState, FieldActions {
  readonly input: Input;
  readonly readOnly: boolean;
  readonly suggestions: readonly string[];
  /** What fields that are repeated beside this one have taken, a line each. */
  readonly taken?: string;
  readonly workbookId: string;
  /** Absent where the label stands elsewhere, as in a repeated field. */
  readonly label?: string;
}

/** How long a field is one that was just left. */
const JUST_LEFT_MS = 1500;

/** One field: its label, its control, then its message, or its hint while there is none. */
export const FormField = memo(function FormField(props: FormFieldProps) {
  const { input, text, message, required, kept, readOnly, onType, onLeave, onEnter } = props;
  const { id, column, block, control } = input;
  const asked = props.asked && message !== '';
  const { awaited, suggested } = props;
  const onText = useCallback((typed: string) => onType(id, typed), [id, onType]);
  const field = useRef<HTMLDivElement>(null);
  const onUse = (): void => {
    onText(suggested);
    focusField(id);
  };
  const onPutBack = (): void => {
    onText(props.stored ?? '');
    focusField(id);
  };
  // A value that comes while one is in its field is replaced by typing, as one that stood there is.
  useLayoutEffect(() => {
    const { activeElement } = document;
    if (props.untouched && field.current?.contains(activeElement)) selectTyped(activeElement);
  }, [text, props.untouched]);
  // Whoever goes on by keys without looking hears what is wrong with the field they left.
  const left = useRef(-Infinity);
  const label = props.label ?? input.label;
  useEffect(() => {
    const isJustLeft = performance.now() - left.current < JUST_LEFT_MS;
    if (message === '' || !isJustLeft || field.current?.contains(document.activeElement)) return;
    announce(`${label}: ${message}`);
  }, [message, label]);
  const Control = control.id === 'shown' ? null : CONTROL_PARTS[control.id];
  const labelId = `label-${id}`;
  const aboutId = `about-${id}`;
  const { hint, start } = block;
  const beginning = start?.kind === 'beginning' ? start.text : '';
  const note = message === '' ? props.note : '';
  const hasAbout = message !== '' || note !== '' || hint !== undefined;
  const tone = message === '' ? (note === '' ? '' : 'noted') : asked ? 'asked' : 'wrong';
  return (
    <div
      ref={field}
      className="field"
      data-field-of={id}
      aria-busy={awaited || undefined}
      onFocus={({ target }) => {
        onEnter(column.id);
        // Whole, with what is said of it, above the foot.
        afterPointer(() => field.current?.scrollIntoView({ block: 'nearest' }));
        if (beginning !== '') selectTyped(target);
      }}
      onKeyDown={(event) => {
        if (!event.altKey || readOnly) return;
        if (event.code === 'KeyU' && suggested !== '') onUse();
        else if (event.code === 'KeyB' && props.stored !== null) onPutBack();
        else return;
        event.preventDefault();
      }}
      onBlur={(event) => {
        left.current = performance.now();
        // Moving between the parts of one field is not leaving it.
        if (!event.currentTarget.contains(event.relatedTarget)) onLeave(id);
      }}
    >
      <div className="field-label">
        <span id={labelId} title={props.label ?? input.label}>
          {props.label ?? input.label}
        </span>
        {kept && <span className="field-kept">kept</span>}
        {suggested !== '' && !readOnly && (
          <button
            type="button"
            className="field-suggested"
            tabIndex={-1}
            aria-keyshortcuts="Alt+U"
            title="Use the suggestion (Alt+U)"
            onClick={onUse}
          >
            Use {suggested}
          </button>
        )}
        {props.stored !== null && !readOnly && (
          <button
            type="button"
            className="field-stored"
            tabIndex={-1}
            aria-keyshortcuts="Alt+B"
            title="Restore the stored value (Alt+B)"
            onClick={onPutBack}
          >
            was {props.stored === '' ? 'blank' : props.stored.slice(0, 60)}
          </button>
        )}
        {required && <span className="field-required">required</span>}
      </div>
      <div className="field-body">
        {Control && !block.readOnly ? (
          <Control
            fieldId={id}
            column={column}
            details={block.details ?? {}}
            text={text}
            readOnly={readOnly}
            required={required}
            invalid={message !== ''}
            labelId={labelId}
            describedBy={hasAbout ? aboutId : undefined}
            suggestions={props.suggestions}
            isSecret={isSecret(input.ruled)}
            items={props.items}
            listProblem={props.listProblem}
            taken={props.taken ?? ''}
            workbookId={props.workbookId}
            limits={block.limits}
            ghost={awaited ? '…' : suggested}
            takes={props.takes}
            beginning={beginning}
            onText={onText}
          />
        ) : (
          <div role="note" aria-labelledby={labelId} className="field-shown">
            {awaited ? '…' : block.readOnly ? text : props.shown}
          </div>
        )}
        {hasAbout && (
          <div id={aboutId} className={`field-about ${tone}`}>
            {message !== '' && <CircleAlert size={13} aria-hidden />}
            {note !== '' && <Info size={13} aria-hidden />}
            {(message || note) !== '' && <span>{message || note}</span>}
            {asked && (
              <button type="button" className="field-mean" onClick={() => props.onMean(id)}>
                Yes, keep it
              </button>
            )}
            {hint !== undefined && <span className="field-hint">{hint}</span>}
          </div>
        )}
      </div>
    </div>
  );
});
