import { Input, InputGroup, Textarea } from '@chakra-ui/react';
import { kindOf, type Typing } from '@varn/core';
import { inputProps, type ControlProps } from './controlProps';

const KEYBOARDS: Partial<Record<Typing, 'decimal' | 'numeric'>> = {
  number: 'decimal',
  time: 'numeric',
};

/** How many signs of a unit have room without asking for more: `°C`. */
const USUAL_UNIT = 2;

/** One line of text for every kind that is typed. */
export function LineControl(props: ControlProps) {
  const { column } = props;
  const { align, typing } = kindOf(column);
  const { unit } = column.settings;
  const line = (
    <Input
      {...inputProps(props)}
      inputMode={KEYBOARDS[typing]}
      textAlign={align}
      fontFamily={align === 'end' ? 'mono' : undefined}
    />
  );
  if (unit === undefined) return line;
  return (
    <InputGroup
      endElement={unit}
      endElementProps={{ color: 'ink.soft', pointerEvents: 'none' }}
      // What is typed ends before its unit, however long that is.
      endOffset={`calc(${USUAL_UNIT - unit.length} * 0.62em)`}
    >
      {line}
    </InputGroup>
  );
}

export function LinesControl(props: ControlProps) {
  return <Textarea {...inputProps(props)} rows={props.details.lines ?? 2} resize="vertical" />;
}
