import type { Input } from '@varn/core';
import { CircleAlert } from 'lucide-react';
import { memo, useCallback } from 'react';
import { CONTROL_PARTS } from './controls';
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
  readonly required: boolean;
  /** Whether what stands there was kept from the record before. */
  readonly kept: boolean;
  /** What stands where nobody types. */
  readonly shown: string;
}

interface FormFieldProps extends InputState, FieldActions {
  readonly input: Input;
  readonly readOnly: boolean;
  readonly suggestions: readonly string[];
  readonly workbookId: string;
  /** Absent where the label stands elsewhere, as in a repeated field. */
  readonly label?: string;
}

/** One field: its label, its control, then its message, or its hint while there is none. */
export const FormField = memo(function FormField(props: FormFieldProps) {
  const { input, text, message, required, kept, readOnly, onType, onLeave, onEnter } = props;
  const { id, column, block, control } = input;
  const asked = props.asked && message !== '';
  const onText = useCallback((typed: string) => onType(id, typed), [id, onType]);
  const Control = control.id === 'shown' ? null : CONTROL_PARTS[control.id];
  const labelId = `label-${id}`;
  const aboutId = `about-${id}`;
  const { hint } = block;
  const hasAbout = message !== '' || hint !== undefined;
  return (
    <div
      className="field"
      data-field-of={id}
      onFocus={() => onEnter(column.id)}
      onBlur={(event) => {
        // Moving between the parts of one field is not leaving it.
        if (!event.currentTarget.contains(event.relatedTarget)) onLeave(id);
      }}
    >
      <div className="field-label">
        <span id={labelId} title={props.label ?? input.label}>
          {props.label ?? input.label}
        </span>
        {kept && <span className="field-kept">kept</span>}
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
            workbookId={props.workbookId}
            onText={onText}
          />
        ) : (
          <div role="note" aria-labelledby={labelId} className="field-shown">
            {block.readOnly ? text : props.shown}
          </div>
        )}
        {hasAbout && (
          <div
            id={aboutId}
            className={`field-about ${asked ? 'asked' : message === '' ? '' : 'wrong'}`}
          >
            {message !== '' && <CircleAlert size={13} aria-hidden />}
            <span>{message === '' ? hint : message}</span>
            {asked && (
              <button type="button" className="field-mean" onClick={() => props.onMean(id)}>
                It is meant
              </button>
            )}
          </div>
        )}
      </div>
    </div>
  );
});
