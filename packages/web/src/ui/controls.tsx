import { Checkbox, Field, Input, NativeSelect, Text, Textarea } from '@chakra-ui/react';
import { createContext, useContext, useState, type ReactNode } from 'react';
import { beforeClick } from './afterPointer';

/** Whether lines are put in at each key, as where what follows from them is shown beside. */
export const PutAtOnce = createContext(false);

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
  readonly hint?: string;
  readonly checked: boolean;
  readonly onChange: (checked: boolean) => void;
}

export function Tick({ label, hint, checked, onChange }: TickProps) {
  return (
    <Checkbox.Root
      checked={checked}
      onCheckedChange={(details) => onChange(details.checked === true)}
      pb="1.5"
    >
      <Checkbox.HiddenInput />
      <Checkbox.Control borderColor="edge" />
      <Checkbox.Label>
        {label}
        {hint !== undefined && (
          <Text as="span" display="block" color="ink.soft" fontSize="12.5px" fontWeight="400">
            {hint}
          </Text>
        )}
      </Checkbox.Label>
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
  /** Says what is wrong with a text; it is then not put in, and stands there to be set right. */
  readonly check?: (text: string) => string | undefined;
  readonly mono?: boolean;
  readonly width?: string;
}

/** One line of text that is put in on leaving it or with Enter; Escape brings back what stood there. */
export function Line(props: LineProps) {
  const { label, value, onPut, hint, problem, check, mono = false, width } = props;
  const { text, wrong, type, put, drop } = useTyped(value, onPut, check);
  const said = wrong ?? problem;
  return (
    <Field.Root w={width ?? 'full'} invalid={said !== undefined}>
      <Field.Label>{label}</Field.Label>
      {hint !== undefined && <Field.HelperText mt="0">{hint}</Field.HelperText>}
      <Input
        enterKeyHint="done"
        size="sm"
        bg="leaf"
        borderColor="edge"
        fontFamily={mono ? 'mono' : undefined}
        value={text}
        onChange={(event) => type(event.target.value)}
        onBlur={() => beforeClick(put)}
        onKeyDown={(event) => {
          if (event.key === 'Enter') put();
          if (event.key !== 'Escape' || text === value) return;
          event.stopPropagation();
          drop();
        }}
      />
      <Field.ErrorText>{said}</Field.ErrorText>
    </Field.Root>
  );
}

interface LinesProps extends Pick<LineProps, 'label' | 'hint' | 'value' | 'onPut' | 'check'> {
  readonly rows?: number;
}

/** Several lines of text that are put in on leaving them. */
export function Lines({ label, hint, value, rows = 5, onPut, check }: LinesProps) {
  const { text, wrong, type, put } = useTyped(value, onPut, check);
  return (
    <Field.Root invalid={wrong !== undefined}>
      <Field.Label>{label}</Field.Label>
      {hint !== undefined && <Field.HelperText mt="0">{hint}</Field.HelperText>}
      <Textarea
        size="sm"
        bg="leaf"
        borderColor="edge"
        rows={rows}
        value={text}
        onChange={(event) => type(event.target.value)}
        onBlur={() => beforeClick(put)}
      />
      <Field.ErrorText>{wrong}</Field.ErrorText>
    </Field.Root>
  );
}

interface Typed {
  /** The value it was typed over: once that is another, what was typed is gone. */
  readonly over: string;
  readonly text: string;
  readonly wrong?: string;
}

/** What is typed over a value until it is put in; what is wrong is told and waits to be set right. */
function useTyped(
  value: string,
  onPut: (text: string) => void,
  check?: (text: string) => string | undefined,
): {
  text: string;
  wrong: string | undefined;
  type: (text: string) => void;
  put: () => void;
  drop: () => void;
} {
  const [typed, setTyped] = useState<Typed | null>(null);
  const isAtOnce = useContext(PutAtOnce);
  const held = typed?.over === value ? typed : null;
  const text = held?.text ?? value;
  return {
    text,
    wrong: held?.wrong,
    type: (next) => {
      if (isAtOnce && check?.(next) === undefined) onPut(next);
      else setTyped({ over: value, text: next });
    },
    put: () => {
      if (text === value) return;
      const wrong = check?.(text);
      if (wrong === undefined) onPut(text);
      else setTyped({ over: value, text, wrong });
    },
    drop: () => setTyped(null),
  };
}
