import { Button, Flex, Input } from '@chakra-ui/react';
import { kindOf, localeFacts, typedValue, type Column } from '@varn/core';
import { Minus, Plus } from 'lucide-react';
import type { KeyboardEvent, ReactNode } from 'react';
import { useLocale } from '../localeContext';
import { inputProps, type ControlProps } from './controlProps';

/** A number that is typed, or taken up and down by its step with the arrows and two buttons. */
export function NumberControl(props: ControlProps) {
  const { column, details, text, readOnly, onText } = props;
  const locale = localeFacts(useLocale());
  const step = details.step ?? 1;
  const move = (by: number): void => {
    const next = stepped(text, column, by * step, locale);
    if (next !== null) onText(next);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const by = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (by === undefined || readOnly || event.altKey || event.ctrlKey) return;
    event.preventDefault();
    move(by);
  };
  const { unit } = column.settings;
  return (
    <Flex gap="1" align="center">
      <StepButton
        {...props}
        label="Less"
        icon={<Minus size={14} aria-hidden />}
        onStep={() => move(-1)}
      />
      <Input
        {...inputProps(props)}
        inputMode="decimal"
        textAlign="end"
        fontFamily="mono"
        minW="12"
        onKeyDown={onKeyDown}
      />
      {unit !== undefined && (
        <Flex as="span" color="ink.soft">
          {unit}
        </Flex>
      )}
      <StepButton
        {...props}
        label="More"
        icon={<Plus size={14} aria-hidden />}
        onStep={() => move(1)}
      />
    </Flex>
  );
}

interface StepButtonProps extends Pick<ControlProps, 'readOnly' | 'labelId'> {
  readonly label: string;
  readonly icon: ReactNode;
  readonly onStep: () => void;
}

function StepButton({ label, icon, readOnly, labelId, onStep }: StepButtonProps) {
  return (
    <Button
      size="sm"
      variant="outline"
      px="2"
      minW="8"
      tabIndex={-1}
      disabled={readOnly}
      aria-label={label}
      aria-describedby={labelId}
      onClick={onStep}
    >
      {icon}
    </Button>
  );
}

/** The number a step up or down from what is typed, in whole steps' decimals; `null` for no number. */
function stepped(
  text: string,
  column: Column,
  by: number,
  locale: ReturnType<typeof localeFacts>,
): string | null {
  const reading = kindOf(column).read(text, column, { locale, now: 0 });
  if (!reading.ok) return null;
  const from = typeof reading.value === 'number' ? reading.value : 0;
  return typedValue(Number((from + by).toPrecision(12)), column, locale);
}
