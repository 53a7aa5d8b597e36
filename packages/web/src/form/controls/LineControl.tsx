import { Box, Button, HStack, Input, InputGroup, Textarea } from '@chakra-ui/react';
import { isGroup, kindOf, type Rule, type RuleTest, type Typing } from '@varn/core';
import { useState, type CSSProperties } from 'react';
import { useIsPhone } from '../../ui/useIsPhone';
import { inputProps, type ControlProps } from './controlProps';

const KEYBOARDS: Partial<Record<Typing, 'decimal' | 'numeric'>> = {
  number: 'decimal',
  time: 'numeric',
};

/** Keyboards for what a rule of a text asks for. */
const ASKED: Partial<Record<RuleTest['is'], 'email' | 'tel' | 'url'>> = {
  mail: 'email',
  phone: 'tel',
  webAddress: 'url',
};

/** The phone's keyboard for a field: of its kind, or of what its rules ask for. */
function keyboardOf({ column }: ControlProps) {
  const rules = column.settings.rules ?? [];
  const [asked] = rules.flatMap(({ must }) =>
    isGroup(must) || must.not ? [] : (ASKED[must.is] ?? []),
  );
  return KEYBOARDS[kindOf(column).typing] ?? asked;
}

const HIDDEN = { WebkitTextSecurity: 'disc' } as CSSProperties;

/** How many signs of a unit have room without asking for more: `°C`. */
const USUAL_UNIT = 2;

/** One line of text for every kind that is typed. */
export function LineControl(props: ControlProps) {
  const { column } = props;
  const { align, typing } = kindOf(column);
  const { unit } = column.settings;
  const isPhone = useIsPhone();
  const [isOpen, setOpen] = useState(false);
  const hasSign = isPhone && typing === 'number' && mayBeNegative(props);
  const line = (
    <Input
      {...inputProps(props)}
      inputMode={keyboardOf(props)}
      textAlign={align}
      fontFamily={align === 'end' ? 'mono' : undefined}
      // Not the browser's field of passwords, which it would offer to keep.
      style={props.isSecret && !isOpen ? HIDDEN : undefined}
    />
  );
  if (props.isSecret) {
    return (
      <HStack gap="1">
        <Box flex="1">{line}</Box>
        <Button
          size="sm"
          variant="outline"
          tabIndex={-1}
          aria-pressed={isOpen}
          aria-describedby={props.labelId}
          onClick={() => setOpen(!isOpen)}
        >
          {isOpen ? 'Hide' : 'Show'}
        </Button>
      </HStack>
    );
  }
  if (hasSign) {
    return (
      <HStack gap="1">
        <SignButton {...props} />
        <Box flex="1">{line}</Box>
        {unit !== undefined && (
          <Box as="span" color="ink.soft">
            {unit}
          </Box>
        )}
      </HStack>
    );
  }
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

/** Whether neither limits nor rules keep a number from being below zero. */
function mayBeNegative({ limits, column }: ControlProps): boolean {
  const rules = column.settings.rules ?? [];
  const isKept = ({ must, strictness }: Rule): boolean =>
    strictness === undefined && must.is === 'between' && !must.not && (must.from ?? -1) >= 0;
  return (limits?.from ?? -1) < 0 && !rules.some(isKept);
}

const MINUS = /^[-\u2212]/;

/** Keyboards of phones have figures for numbers, and often no minus. */
function SignButton({ text, readOnly, labelId, onText }: ControlProps) {
  return (
    <Button
      size="sm"
      variant="outline"
      px="2"
      minW="10"
      tabIndex={-1}
      disabled={readOnly}
      aria-label="Change the sign"
      aria-describedby={labelId}
      onClick={() => onText(MINUS.test(text) ? text.replace(MINUS, '') : `-${text}`)}
    >
      ±
    </Button>
  );
}

export function LinesControl(props: ControlProps) {
  return <Textarea {...inputProps(props)} rows={props.details.lines ?? 2} resize="vertical" />;
}
