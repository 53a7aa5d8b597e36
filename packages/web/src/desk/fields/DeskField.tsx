import { kindOf, labelOf, type Column, type ControlId, type FormField } from '@varn/core';
import { CircleAlert } from 'lucide-react';
import { memo, useCallback, type ComponentType, type CSSProperties } from 'react';
import { ChoiceControl } from './ChoiceControl';
import type { ControlProps } from './controlProps';
import { LineControl } from './LineControl';
import './fields.css';
import { YesNoControl } from './YesNoControl';

const CONTROLS: Readonly<Record<Exclude<ControlId, 'shown'>, ComponentType<ControlProps>>> = {
  line: LineControl,
  number: LineControl,
  date: LineControl,
  time: LineControl,
  yesNo: YesNoControl,
  choice: ChoiceControl,
};

interface DeskFieldProps {
  readonly field: FormField;
  readonly column: Column;
  readonly span: number;
  readonly text: string;
  /** What stands where nobody types: what Varn will fill in. */
  readonly shown: string;
  /** What is wrong and what to do, when that is to be told. */
  readonly message: string;
  /** Whether it is only asked about: the answer can be meant. */
  readonly asked: boolean;
  readonly readOnly: boolean;
  readonly onType: (fieldId: string, text: string) => void;
  readonly onLeave: (fieldId: string) => void;
  readonly onMean: (fieldId: string) => void;
  readonly onEnter: (columnId: string) => void;
}

/** One field: its label above, its control, then its message, or its hint while there is none. */
export const DeskField = memo(function DeskField(props: DeskFieldProps) {
  const { field, column, span, text, shown, message, readOnly, onType, onLeave, onEnter } = props;
  const asked = props.asked && message !== '';
  const onText = useCallback((typed: string) => onType(field.id, typed), [field.id, onType]);
  const { control } = kindOf(column);
  const Control = control === 'shown' ? null : CONTROLS[control];
  const labelId = `label-${field.id}`;
  const aboutId = `about-${field.id}`;
  const hasAbout = message !== '' || field.hint !== undefined;
  return (
    <div
      className="field"
      style={{ '--span': span } as CSSProperties}
      onFocus={() => onEnter(column.id)}
      onBlur={(event) => {
        // Moving from Yes to No is not leaving the field.
        if (!event.currentTarget.contains(event.relatedTarget)) onLeave(field.id);
      }}
    >
      <div className="field-label">
        <span id={labelId} title={labelOf(field, column)}>
          {labelOf(field, column)}
        </span>
        {field.required && <span className="field-required">required</span>}
      </div>
      {Control ? (
        <Control
          fieldId={field.id}
          column={column}
          text={text}
          readOnly={readOnly}
          several={field.several === true}
          required={field.required === true}
          invalid={message !== ''}
          labelId={labelId}
          describedBy={hasAbout ? aboutId : undefined}
          onText={onText}
        />
      ) : (
        <div role="note" aria-labelledby={labelId} className="field-shown">
          {shown}
        </div>
      )}
      {hasAbout && (
        <div
          id={aboutId}
          className={`field-about ${asked ? 'asked' : message === '' ? '' : 'wrong'}`}
        >
          {message !== '' && <CircleAlert size={13} aria-hidden />}
          <span>{message === '' ? field.hint : message}</span>
          {asked && (
            <button type="button" className="field-mean" onClick={() => props.onMean(field.id)}>
              It is meant
            </button>
          )}
        </div>
      )}
    </div>
  );
});
