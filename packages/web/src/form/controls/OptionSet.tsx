import { useId, type KeyboardEvent, type ReactNode } from 'react';
import { useTypeAhead } from './typeAhead';
import './options.css';

export interface Option {
  readonly value: string;
  readonly label: string;
  /** What stands for it, where that is more than its label. */
  readonly face?: ReactNode | undefined;
}

interface OptionSetProps {
  readonly fieldId: string;
  readonly options: readonly Option[];
  readonly value: string;
  readonly arranged: 'row' | 'stack' | 'joined' | 'joined bare' | 'cards';
  readonly readOnly: boolean;
  readonly required: boolean;
  readonly invalid: boolean;
  readonly labelId: string;
  readonly describedBy: string | undefined;
  readonly onPick: (value: string) => void;
  readonly children?: ReactNode;
}

/**
 * One of several in sight: radio buttons, blank at first. A second click or Backspace takes the
 * answer back; arrows move as between any radio buttons, and letters and figures answer.
 */
export function OptionSet(props: OptionSetProps) {
  const { fieldId, options, value, arranged, readOnly, required, invalid, onPick } = props;
  // A form may stand on a screen twice, and each of them is a set of its own.
  const name = useId();
  const typeAhead = useTypeAhead(
    options.map(({ label }) => label),
    options.findIndex((option) => option.value === value),
    (at) => onPick(options[at]?.value ?? ''),
  );
  const onKeyDown = (event: KeyboardEvent): void => {
    if (readOnly || event.ctrlKey || event.metaKey || event.altKey) return;
    if ((event.target as HTMLInputElement).type !== 'radio') return;
    if (event.key !== 'Backspace' && event.key !== 'Delete') {
      typeAhead(event);
      return;
    }
    event.preventDefault();
    onPick('');
  };
  return (
    <div
      role="radiogroup"
      aria-labelledby={props.labelId}
      aria-describedby={props.describedBy}
      aria-required={required || undefined}
      aria-invalid={invalid || undefined}
      className={`options ${arranged}${invalid ? ' wrong' : ''}`}
      onKeyDown={onKeyDown}
    >
      {options.map((option) => (
        <label
          key={option.value}
          className={`option${option.value === value ? ' chosen' : ''}`}
          title={option.label}
        >
          <input
            type="radio"
            name={name}
            data-field={fieldId}
            aria-label={option.label}
            checked={option.value === value}
            disabled={readOnly}
            onChange={() => onPick(option.value)}
            onClick={() => option.value === value && onPick('')}
          />
          {option.face ?? <span>{option.label}</span>}
        </label>
      ))}
      {props.children}
    </div>
  );
}
