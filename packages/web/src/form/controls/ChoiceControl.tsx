import { Box, IconButton, Input, InputGroup, Portal } from '@chakra-ui/react';
import { foldCode, foldText } from '@varn/core';
import { ChevronDown } from 'lucide-react';
import { useEffect, useId, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { focusNextField } from '../focus';
import { ChosenPicture } from './choiceControls';
import type { ControlProps } from './controlProps';
import { LineControl } from './LineControl';
import { usePopupPlace } from './usePopupPlace';

/** A long list shows only so many at once; typing narrows it. */
const MOST_SHOWN = 100;

/** Choices that hold what was typed: a code typed short first (`ab3`), then what begins with it; all before typing. */
function narrow(choices: readonly string[], typed: string | null): readonly string[] {
  if (typed === null || typed.trim() === '') return choices.slice(0, MOST_SHOWN);
  const folded = foldText(typed);
  const code = /\d/.test(typed) ? foldCode(typed) : null;
  const begin: string[] = [];
  const hold: string[] = [];
  const alike: string[] = [];
  for (const choice of choices) {
    const at = foldText(choice).indexOf(folded);
    if (at === 0) begin.push(choice);
    else if (at > 0) hold.push(choice);
    else if (code !== null && foldCode(choice) === code) alike.push(choice);
  }
  return [...alike, ...begin, ...hold].slice(0, MOST_SHOWN);
}

/** One of the column's choices, found by typing. */
export function ChoiceControl(props: ControlProps) {
  return (
    <>
      <FindControl {...props} choices={props.column.settings.choices ?? NONE} />
      <ChosenPicture {...props} />
    </>
  );
}

/** A line of text that offers what the column holds already, where the field says so. */
export function SuggestControl(props: ControlProps) {
  return props.details.suggests ? (
    <FindControl {...props} choices={props.suggestions} isFree />
  ) : (
    <LineControl {...props} />
  );
}

const NONE: readonly string[] = [];

/**
 * A dropdown with type-to-find (ARIA's combobox pattern, list popup). Enter takes the marked choice
 * and goes on to the next field in one; Tab takes it when something was typed. What is typed stands
 * until it is right.
 */
function FindControl(
  props: ControlProps & {
    readonly choices: readonly string[];
    /** Whether anything else may be typed as well. */
    readonly isFree?: boolean;
  },
) {
  const { fieldId, text, readOnly, required, invalid, labelId, describedBy, onText } = props;
  const { choices, isFree = false } = props;
  const listId = useId();
  const input = useRef<HTMLInputElement>(null);
  const [open, setOpen] = useState(false);
  // What was typed since the list opened; `null` shows the whole list.
  const [typed, setTyped] = useState<string | null>(null);
  const [marked, setMarked] = useState(0);
  const shown = useMemo(() => (open ? narrow(choices, typed) : []), [open, choices, typed]);
  const place = usePopupPlace(input, open);

  const show = (from: string | null): void => {
    setTyped(from);
    setOpen(true);
    setMarked(isFree ? -1 : from === null ? Math.max(0, choices.indexOf(text)) : 0);
  };
  const hide = (): void => setOpen(false);
  const take = (choice: string): void => {
    onText(choice);
    hide();
  };

  const onKeyDown = (event: KeyboardEvent): void => {
    if (readOnly || event.ctrlKey || event.metaKey) return;
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const choice = shown[marked];
    if (step !== undefined) {
      event.preventDefault();
      if (open) setMarked((marked + step + shown.length) % Math.max(1, shown.length));
      else show(null);
    } else if (!open) return;
    else if (event.key === 'Escape') {
      event.preventDefault();
      hide();
    } else if (event.key === 'Enter' && choice !== undefined) {
      event.preventDefault();
      event.stopPropagation();
      take(choice);
      focusNextField(event.target as HTMLElement);
    } else if (event.key === 'Tab') {
      if (typed !== null && typed.trim() !== '' && choice !== undefined) take(choice);
      else hide();
    }
  };

  return (
    <>
      <InputGroup
        endElement={
          <IconButton
            size="2xs"
            variant="ghost"
            tabIndex={-1}
            aria-hidden
            disabled={readOnly}
            onMouseDown={(event) => {
              event.preventDefault();
              input.current?.focus();
              if (open) hide();
              else show(null);
            }}
          >
            <ChevronDown size={15} />
          </IconButton>
        }
        endElementProps={{ px: '1' }}
      >
        <Input
          ref={input}
          data-field={fieldId}
          role="combobox"
          aria-expanded={open}
          aria-controls={open ? listId : undefined}
          aria-autocomplete="list"
          aria-activedescendant={
            open && shown.length > 0 && marked >= 0 ? `${listId}-${marked}` : undefined
          }
          aria-labelledby={labelId}
          aria-describedby={describedBy}
          aria-invalid={invalid || undefined}
          aria-required={required || undefined}
          autoComplete="off"
          size="sm"
          fontSize={{ base: '16px', md: '14px' }}
          bg="leaf"
          borderColor={invalid ? 'madder' : 'edge'}
          readOnly={readOnly}
          placeholder={props.ghost === '' ? undefined : props.ghost}
          data-beginning={props.beginning === '' ? undefined : props.beginning}
          value={text}
          onChange={(event) => {
            onText(event.target.value);
            show(event.target.value);
          }}
          onMouseDown={() => !readOnly && !open && show(null)}
          onBlur={hide}
          onKeyDown={onKeyDown}
        />
      </InputGroup>
      {open && place && (
        <Portal>
          <Box
            id={listId}
            role="listbox"
            aria-labelledby={labelId}
            position="fixed"
            style={place}
            zIndex="popover"
            overflowY="auto"
            bg="leaf"
            borderWidth="1px"
            borderColor="edge"
            borderRadius="4px"
            boxShadow="float"
            py="1"
            // The field keeps the focus while the list is clicked.
            onMouseDown={(event) => event.preventDefault()}
          >
            {shown.map((choice, index) => (
              <Option
                key={choice}
                id={`${listId}-${index}`}
                choice={choice}
                marked={index === marked}
                chosen={choice === text}
                onTake={take}
              />
            ))}
            {shown.length === 0 && !isFree && (
              <Box px="3" py="1" color="ink.soft" role="option" aria-disabled aria-selected={false}>
                Not on the list
              </Box>
            )}
          </Box>
        </Portal>
      )}
    </>
  );
}

interface OptionProps {
  readonly id: string;
  readonly choice: string;
  readonly marked: boolean;
  readonly chosen: boolean;
  readonly onTake: (choice: string) => void;
}

function Option({ id, choice, marked, chosen, onTake }: OptionProps) {
  const element = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (marked) element.current?.scrollIntoView({ block: 'nearest' });
  }, [marked]);
  return (
    <Box
      ref={element}
      id={id}
      role="option"
      aria-selected={chosen}
      px="3"
      py="1"
      minH="28px"
      cursor="pointer"
      bg={marked ? 'brass.wash' : undefined}
      fontWeight={chosen ? 600 : undefined}
      borderStartWidth="3px"
      borderColor={marked ? 'brass' : 'transparent'}
      _hover={{ bg: 'brass.wash' }}
      onClick={() => onTake(choice)}
    >
      {choice}
    </Box>
  );
}
