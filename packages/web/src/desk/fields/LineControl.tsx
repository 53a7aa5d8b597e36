import { Input, InputGroup, Textarea } from '@chakra-ui/react';
import { kindOf, type ControlId } from '@varn/core';
import type { ControlProps } from './controlProps';

const KEYBOARDS: Partial<Record<ControlId, 'decimal' | 'numeric'>> = {
  number: 'decimal',
  time: 'numeric',
};

/** One line of text for every kind that is typed; several lines where the form says so. */
export function LineControl(props: ControlProps) {
  const {
    fieldId,
    column,
    text,
    readOnly,
    several,
    required,
    invalid,
    labelId,
    describedBy,
    onText,
  } = props;
  const { align, control, id } = kindOf(column);
  const common = {
    'data-field': fieldId,
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
    onChange: (event: { target: { value: string } }) => onText(event.target.value),
  } as const;
  if (several) return <Textarea {...common} rows={2} resize="vertical" />;
  const keyboard = id === 'moment' ? undefined : KEYBOARDS[control];
  const line = (
    <Input
      {...common}
      inputMode={keyboard}
      textAlign={align}
      fontFamily={align === 'end' ? 'mono' : undefined}
    />
  );
  const { unit } = column.settings;
  if (unit === undefined) return line;
  return (
    <InputGroup endElement={unit} endElementProps={{ color: 'ink.soft', pointerEvents: 'none' }}>
      {line}
    </InputGroup>
  );
}
