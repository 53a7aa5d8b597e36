import type { Column, ControlDetails, Limits, ListItem } from '@varn/core';

/** What every control of a field is given. It tells of typed text and never reads it itself. */
export interface ControlProps {
  readonly fieldId: string;
  readonly column: Column;
  readonly details: ControlDetails;
  readonly text: string;
  /** Whether what is typed is a secret word. */
  readonly isSecret: boolean;
  readonly readOnly: boolean;
  readonly required: boolean;
  readonly invalid: boolean;
  /** Ids of the label, and of hint and message. */
  readonly labelId: string;
  readonly describedBy: string | undefined;
  /** What the column holds already, where the field suggests it. */
  readonly suggestions: readonly string[];
  /** What a field of choices offers now. */
  readonly items: readonly ListItem[];
  /** Why nothing is offered, where the list is not there. */
  readonly listProblem: string | undefined;
  /** What fields that are repeated beside this one have taken, a line each. */
  readonly taken: string;
  readonly workbookId: string;
  /** Between what the field lets through. */
  readonly limits: Limits | undefined;
  /** What stands ghosted in a blank field: a suggestion, or that its value is on its way. */
  readonly ghost: string;
  /** What the rules take, where nothing else stands ghosted. */
  readonly takes: string;
  /** The start that typing goes on from, where the field has one. */
  readonly beginning: string;
  readonly onText: (text: string) => void;
}

/** What an input that is typed into has in every control. */
export function inputProps(props: ControlProps) {
  const { fieldId, labelId, describedBy, invalid, required, text, readOnly, onText } = props;
  const { ghost, beginning, takes } = props;
  return {
    'data-field': fieldId,
    'data-beginning': beginning === '' ? undefined : beginning,
    placeholder: ghost || takes || undefined,
    'data-takes': ghost === '' && takes !== '' ? takes : undefined,
    'aria-description': takes === '' ? undefined : `Takes: ${takes}`,
    'aria-labelledby': labelId,
    'aria-describedby': describedBy,
    'aria-invalid': invalid || undefined,
    'aria-required': required || undefined,
    value: text,
    readOnly,
    size: 'sm',
    // Phones zoom into fields whose text is smaller.
    fontSize: { base: '16px', md: '14px' },
    bg: 'leaf',
    borderColor: invalid ? 'madder' : 'edge',
    autoComplete: 'off',
    enterKeyHint: 'next',
    onChange: (event: { target: { value: string } }) => onText(event.target.value),
  } as const;
}
