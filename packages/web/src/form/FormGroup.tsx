import type { GroupBlock, Input, ListItem } from '@varn/core';
import { CircleAlert } from 'lucide-react';
import { useId } from 'react';
import { Box } from './controls/choiceControls';
import { useTypeAhead } from './controls/typeAhead';
import { FormField, type FieldActions, type InputState } from './FormField';

interface FormGroupProps extends FieldActions {
  readonly block: GroupBlock;
  readonly inputs: readonly Input[];
  readonly stateOf: (input: Input) => InputState;
  readonly readOnly: boolean;
  readonly workbookId: string;
}

/** Several columns as one block: boxes to tick, statements in a grid, or a field repeated. */
export function FormGroup(props: FormGroupProps) {
  const { block, inputs, stateOf } = props;
  const states = inputs.map(stateOf);
  const labelId = `label-${block.id}`;
  const message = states.find((state) => state.message !== '')?.message ?? '';
  const required = states.some((state) => state.required);
  return (
    <div
      className="field"
      data-field-of={block.id}
      onBlur={(event) => {
        if (event.currentTarget.contains(event.relatedTarget)) return;
        for (const { id } of inputs) props.onLeave(id);
      }}
    >
      <div className="field-label">
        <span id={labelId}>{block.label}</span>
        {required && <span className="field-required">required</span>}
      </div>
      <div className="field-body" role="group" aria-labelledby={labelId}>
        {block.as === 'boxes' && <Boxes {...props} states={states} />}
        {block.as === 'statements' && <Statements {...props} states={states} />}
        {block.as === 'repeated' && <Repeated {...props} states={states} />}
        {(message !== '' || block.hint !== undefined) && block.as !== 'repeated' && (
          <div className={`field-about ${message === '' ? '' : 'wrong'}`}>
            {message !== '' && <CircleAlert size={13} aria-hidden />}
            <span>{message === '' ? block.hint : message}</span>
          </div>
        )}
      </div>
    </div>
  );
}

const NONE: readonly string[] = [];

type Parts = FormGroupProps & { readonly states: readonly InputState[] };

const nameOf = (block: GroupBlock, input: Input): string =>
  block.members.find(({ id }) => id === input.id)?.label ?? input.column.heading;

function Boxes({ block, inputs, states, readOnly, onType, onEnter }: Parts) {
  return (
    <div className={`options ${block.details?.inRow ? 'row' : 'stack'}`}>
      {inputs.map((input, n) => (
        <div key={input.id} onFocus={() => onEnter(input.column.id)}>
          <Box
            fieldId={input.id}
            label={nameOf(block, input)}
            checked={states[n]?.text === 'yes'}
            readOnly={readOnly}
            onTick={(ticked) => onType(input.id, ticked ? 'yes' : '')}
          />
        </div>
      ))}
    </div>
  );
}

function Statements({ block, inputs, states, readOnly, onType, onEnter }: Parts) {
  const set = useId();
  const items = states[0]?.items ?? [];
  return (
    <table className="statements">
      <thead>
        <tr>
          <td />
          {items.map(({ text, label }) => (
            <th key={text} scope="col">
              {label}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {inputs.map((input, n) => (
          <Statement
            key={input.id}
            input={input}
            name={nameOf(block, input)}
            set={`${set}/${input.id}`}
            items={items}
            text={states[n]?.text ?? ''}
            readOnly={readOnly}
            onType={onType}
            onEnter={onEnter}
          />
        ))}
      </tbody>
    </table>
  );
}

interface StatementProps extends Pick<FormGroupProps, 'readOnly' | 'onType' | 'onEnter'> {
  readonly input: Input;
  readonly name: string;
  /** The name of its radio buttons. */
  readonly set: string;
  readonly items: readonly ListItem[];
  readonly text: string;
}

/** One statement of a grid, answered by a click, by letters, or by the figure of the choice. */
function Statement({ input, name, set, items, text, ...props }: StatementProps) {
  const { readOnly, onType, onEnter } = props;
  const chosen = items.findIndex((item) => item.text === text);
  const labels = items.map(({ label }) => label);
  const typeAhead = useTypeAhead(labels, chosen, (at) => onType(input.id, items[at]?.text ?? ''));
  return (
    <tr
      onFocus={() => onEnter(input.column.id)}
      onKeyDown={(event) => {
        if (readOnly) return;
        if (event.key === 'Backspace') onType(input.id, '');
        else typeAhead(event);
      }}
    >
      <th scope="row">{name}</th>
      {items.map(({ text: choice, label }) => (
        <td key={choice} className={text === choice ? 'chosen' : undefined}>
          <label>
            <input
              type="radio"
              name={set}
              data-field={input.id}
              aria-label={`${name}: ${label}`}
              checked={text === choice}
              disabled={readOnly}
              onChange={() => onType(input.id, choice)}
              onClick={() => text === choice && onType(input.id, '')}
            />
            <span className="cell-word">{label}</span>
          </label>
        </td>
      ))}
    </tr>
  );
}

function Repeated({ block, inputs, states, stateOf: _stateOf, ...rest }: Parts) {
  return (
    <div className="repeated">
      {inputs.map((input, n) => {
        const state = states[n];
        const others = states.filter((_state, at) => at !== n).map(({ text }) => text);
        return (
          state && (
            <FormField
              key={input.id}
              input={input}
              label={nameOf(block, input)}
              {...state}
              suggestions={NONE}
              taken={others.filter((text) => text !== '').join('\n')}
              {...rest}
            />
          )
        );
      })}
    </div>
  );
}
