import { Box, HStack } from '@chakra-ui/react';
import type { KeyboardEvent } from 'react';
import type { ControlProps } from './controlProps';

const ANSWERS = [
  { word: 'yes', label: 'Yes' },
  { word: 'no', label: 'No' },
] as const;

/**
 * Yes or no, blank at first. Y and N answer, Backspace or a second click takes the answer back;
 * arrows move as between any radio buttons.
 */
export function YesNoControl(props: ControlProps) {
  const { fieldId, text, readOnly, required, invalid, labelId, describedBy, onText } = props;
  const onKeyDown = (event: KeyboardEvent): void => {
    if (readOnly || event.ctrlKey || event.metaKey || event.altKey) return;
    const answer = { y: 'yes', n: 'no', Backspace: '', Delete: '' }[event.key];
    if (answer === undefined) return;
    event.preventDefault();
    onText(answer);
  };
  return (
    <HStack
      role="radiogroup"
      aria-labelledby={labelId}
      aria-describedby={describedBy}
      aria-required={required || undefined}
      aria-invalid={invalid || undefined}
      gap="0"
      h="9"
      borderWidth="1px"
      borderColor={invalid ? 'madder' : 'edge'}
      borderRadius="4px"
      bg="leaf"
      overflow="hidden"
      w="fit-content"
      onKeyDown={onKeyDown}
    >
      {ANSWERS.map(({ word, label }, index) => (
        <Box
          as="label"
          key={word}
          px="4"
          h="full"
          display="flex"
          alignItems="center"
          gap="2"
          cursor="pointer"
          borderStartWidth={index > 0 ? '1px' : '0'}
          bg={text === word ? 'brass.wash' : undefined}
          fontWeight={text === word ? 600 : undefined}
          css={{
            '&:has(:focus-visible)': { outline: '2px solid {colors.brass}', outlineOffset: '-2px' },
          }}
        >
          <input
            type="radio"
            name={fieldId}
            data-field={fieldId}
            checked={text === word}
            disabled={readOnly}
            onChange={() => onText(word)}
            onClick={() => text === word && onText('')}
          />
          {label}
        </Box>
      ))}
    </HStack>
  );
}
