import { Checkbox, Field, Input, NativeSelect } from '@chakra-ui/react';
import { useState, type ReactNode } from 'react';

interface ChoiceProps {
  readonly label: string;
  readonly value: string;
  readonly options: readonly (readonly [value: string, name: string])[];
  readonly onChange: (value: string) => void;
  readonly disabled?: boolean;
}

/** One of a few, under its label. */
export function Choice({ label, value, options, onChange, disabled = false }: ChoiceProps) {
  return (
    <Field.Root w="auto" minW="0">
      <Field.Label>{label}</Field.Label>
      <NativeSelect.Root size="sm" w="auto" maxW="full" disabled={disabled}>
        <NativeSelect.Field
          value={value}
          onChange={(event) => onChange(event.target.value)}
          bg="leaf"
          borderColor="edge"
        >
          {options.map(([each, name]) => (
            <option key={each} value={each}>
              {name}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Field.Root>
  );
}

interface TickProps {
  readonly label: ReactNode;
  readonly checked: boolean;
  readonly onChange: (checked: boolean) => void;
}

export function Tick({ label, checked, onChange }: TickProps) {
  return (
    <Checkbox.Root
      checked={checked}
      onCheckedChange={(details) => onChange(details.checked === true)}
      pb="1.5"
    >
      <Checkbox.HiddenInput />
      <Checkbox.Control borderColor="edge" />
      <Checkbox.Label>{label}</Checkbox.Label>
    </Checkbox.Root>
  );
}

interface LineProps {
  readonly label: string;
  readonly value: string;
  /** Called on leaving the line, or with Enter, where it was changed. */
  readonly onPut: (text: string) => void;
  readonly hint?: string;
  readonly problem?: string | undefined;
  readonly mono?: boolean;
  readonly width?: string;
}

/** One line of text that is put in on leaving it or with Enter; Escape brings back what stood there. */
export function Line({ label, value, onPut, hint, problem, mono = false, width }: LineProps) {
  const [typed, setTyped] = useState<{ over: string; text: string } | null>(null);
  const text = typed?.over === value ? typed.text : value;
  const put = (): void => {
    if (text !== value) onPut(text);
  };
  return (
    <Field.Root w={width ?? 'full'} invalid={problem !== undefined}>
      <Field.Label>{label}</Field.Label>
      {hint !== undefined && <Field.HelperText mt="0">{hint}</Field.HelperText>}
      <Input
        size="sm"
        bg="leaf"
        borderColor="edge"
        fontFamily={mono ? 'mono' : undefined}
        value={text}
        onChange={(event) => setTyped({ over: value, text: event.target.value })}
        onBlur={put}
        onKeyDown={(event) => {
          if (event.key === 'Enter') put();
          if (event.key !== 'Escape' || text === value) return;
          event.stopPropagation();
          setTyped(null);
        }}
      />
      <Field.ErrorText>{problem}</Field.ErrorText>
    </Field.Root>
  );
}
