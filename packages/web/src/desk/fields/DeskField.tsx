import { Box, Flex, Text } from '@chakra-ui/react';
import { kindOf, labelOf, type Column, type ControlId, type FormField } from '@varn/core';
import { CircleAlert } from 'lucide-react';
import { memo, useCallback, type ComponentType } from 'react';
import { ChoiceControl } from './ChoiceControl';
import type { ControlProps } from './controlProps';
import { LineControl } from './LineControl';
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
  readonly readOnly: boolean;
  readonly onType: (fieldId: string, text: string) => void;
  readonly onLeave: (fieldId: string) => void;
  readonly onEnter: (columnId: string) => void;
}

/** One field: its label above, its control, then its message, or its hint while there is none. */
export const DeskField = memo(function DeskField(props: DeskFieldProps) {
  const { field, column, span, text, shown, message, readOnly, onType, onLeave, onEnter } = props;
  const onText = useCallback((typed: string) => onType(field.id, typed), [field.id, onType]);
  const { control } = kindOf(column);
  const Control = control === 'shown' ? null : CONTROLS[control];
  const labelId = `label-${field.id}`;
  const aboutId = `about-${field.id}`;
  const hasAbout = message !== '' || field.hint !== undefined;
  return (
    <Box
      gridColumn={{ base: '1 / -1', sm: `span ${Math.max(span, 4)}`, lg: `span ${span}` }}
      minW="0"
      onFocus={() => onEnter(column.id)}
      onBlur={(event) => {
        // Moving from Yes to No is not leaving the field.
        if (!event.currentTarget.contains(event.relatedTarget)) onLeave(field.id);
      }}
    >
      <Flex gap="2" align="baseline" justify="space-between" fontSize="13px">
        <Text
          id={labelId}
          as="span"
          fontWeight="600"
          overflow="hidden"
          textOverflow="ellipsis"
          whiteSpace="nowrap"
          title={labelOf(field, column)}
        >
          {labelOf(field, column)}
        </Text>
        {field.required && (
          <Text as="span" color="ink.soft" fontSize="12px">
            required
          </Text>
        )}
      </Flex>
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
        <Text
          aria-labelledby={labelId}
          role="note"
          h="9"
          display="flex"
          alignItems="center"
          color="ink.soft"
          fontFamily="mono"
          fontSize="13px"
        >
          {shown}
        </Text>
      )}
      {hasAbout && (
        <Flex
          id={aboutId}
          gap="1"
          fontSize="12.5px"
          color={message === '' ? 'ink.soft' : 'madder'}
          align="start"
          mt="2px"
        >
          {message !== '' && (
            <Box as="span" flex="none" mt="2px">
              <CircleAlert size={13} aria-hidden />
            </Box>
          )}
          <span>{message === '' ? field.hint : message}</span>
        </Flex>
      )}
    </Box>
  );
});
