import { Box, IconButton, Input, InputGroup, Portal } from '@chakra-ui/react';
import type { ListItem } from '@varn/core';
import { ChevronDown } from 'lucide-react';
import { useId, useMemo, useRef } from 'react';
import { useIsPhone } from '../../ui/useIsPhone';
import { focusNextField } from '../focus';
import { ChosenPicture } from './choiceControls';
import { useChoosing } from './choosing';
import type { ControlProps } from './controlProps';
import { LineControl } from './LineControl';
import { ListBox, widthOf } from './ListBox';
import { ListSheet } from './ListSheet';
import { usePopupPlace } from './usePopupPlace';

/** One of what the column offers, found by typing. */
export function ChoiceControl(props: ControlProps) {
  return (
    <>
      <FindControl {...props} />
      <ChosenPicture {...props} />
    </>
  );
}

/** A line of text that offers what the column holds already, where the field says so. */
export function SuggestControl(props: ControlProps) {
  const { suggestions } = props;
  const items = useMemo(() => suggestions.map(suggestedItem), [suggestions]);
  return props.details.suggests ? (
    <FindControl {...props} items={items} isFree />
  ) : (
    <LineControl {...props} />
  );
}

const suggestedItem = (text: string): ListItem => {
  return { value: text, text, label: text, second: '', by: [], fills: [] };
};

/**
 * A dropdown with type-to-find (ARIA's combobox pattern, list popup). Enter takes the marked choice
 * and goes on to the next field in one; Tab takes it when something was typed. What is typed stands
 * until it is right.
 */
function FindControl(props: ControlProps & { readonly isFree?: boolean }) {
  const { fieldId, column, text, readOnly, required, invalid, labelId, describedBy } = props;
  const { items, isFree = false, onText } = props;
  const listId = useId();
  const input = useRef<HTMLInputElement>(null);
  const isPhone = useIsPhone() && !isFree;
  const isRecentFirst = column.settings.list?.recent === true;
  const choosing = useChoosing({ columnId: column.id, items, text, isFree, isRecentFirst, onText });
  const { open, shown, marked, show, hide } = choosing;
  const place = usePopupPlace(input, open && !isPhone);
  const width = useMemo(() => widthOf(items), [items]);
  const taken = useMemo(
    () => new Set(props.taken === '' ? [] : props.taken.split('\n')),
    [props.taken],
  );
  const blank =
    props.listProblem !== undefined
      ? `There are no choices. ${props.listProblem}`
      : items.length === 0
        ? 'No choices yet'
        : 'Not on the list';
  const isActive = open && shown.length > 0 && marked >= 0 && !isPhone;

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
          aria-expanded={open && !isPhone}
          aria-haspopup={isPhone ? 'dialog' : 'listbox'}
          aria-controls={open && !isPhone ? listId : undefined}
          aria-autocomplete="list"
          aria-activedescendant={isActive ? `${listId}-${marked}` : undefined}
          aria-labelledby={labelId}
          aria-describedby={describedBy}
          aria-invalid={invalid || undefined}
          aria-required={required || undefined}
          autoComplete="off"
          size="sm"
          fontSize={{ base: '16px', md: '14px' }}
          bg="leaf"
          borderColor={invalid ? 'madder' : 'edge'}
          readOnly={readOnly || isPhone}
          placeholder={props.ghost === '' ? undefined : props.ghost}
          data-beginning={props.beginning === '' ? undefined : props.beginning}
          value={choosing.face}
          onChange={(event) => choosing.type(event.target.value)}
          onMouseDown={() => !readOnly && !open && !isPhone && show(null)}
          onClick={() => !readOnly && !open && isPhone && show(null)}
          onBlur={() => !isPhone && hide()}
          onKeyDown={(event) => {
            if (readOnly) return;
            if (isPhone && (event.key === 'Enter' || event.key === ' ')) {
              event.preventDefault();
              show(null);
            } else if (choosing.onKey(event)) focusNextField(event.target as HTMLElement);
          }}
        />
      </InputGroup>
      {open && isPhone && (
        <ListSheet
          choosing={choosing}
          label={document.getElementById(labelId)?.textContent ?? ''}
          text={text}
          taken={taken}
          blank={blank}
        />
      )}
      {open && place && (isFree ? shown.length > 0 : true) && (
        <Portal>
          <Box
            as="section"
            aria-labelledby={labelId}
            position="fixed"
            style={{
              ...place,
              maxHeight: undefined,
              width: Math.max(Number(place.minWidth), width),
            }}
            zIndex="popover"
            bg="leaf"
            borderWidth="1px"
            borderColor="edge"
            borderRadius="4px"
            boxShadow="float"
            py="1"
          >
            <ListBox
              id={listId}
              labelId={labelId}
              items={shown}
              marked={marked}
              text={text}
              taken={taken}
              height={Number(place.maxHeight) - 10}
              blank={blank}
              onTake={choosing.take}
            />
          </Box>
        </Portal>
      )}
    </>
  );
}
