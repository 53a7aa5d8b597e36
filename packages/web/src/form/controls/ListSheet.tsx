import { Button, Input, Portal } from '@chakra-ui/react';
import { useEffect, useId, useRef } from 'react';
import { tabWithin } from '../../ui/tabWithin';
import type { Choosing } from './choosing';
import { ListBox } from './ListBox';

interface ListSheetProps {
  readonly choosing: Choosing;
  readonly label: string;
  readonly text: string;
  readonly taken: ReadonlySet<string>;
  readonly blank: string;
}

const LIST_SHARE = 0.55;

/** On a phone: the list comes from below, with the same find, and a finger's room for each item. */
export function ListSheet({ choosing, label, text, taken, blank }: ListSheetProps) {
  const id = useId();
  const find = useRef<HTMLInputElement>(null);
  const sheet = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const before = document.activeElement;
    find.current?.focus();
    return () => {
      if (before instanceof HTMLElement) before.focus();
    };
  }, []);
  const { shown, marked } = choosing;
  return (
    <Portal>
      <div className="list-shade" onClick={choosing.hide} aria-hidden />
      <div
        ref={sheet}
        className="list-sheet"
        role="dialog"
        aria-modal="true"
        aria-labelledby={`${id}-label`}
        onKeyDown={(event) => tabWithin(event, sheet.current)}
      >
        <h2 id={`${id}-label`}>{label}</h2>
        <Input
          enterKeyHint="go"
          ref={find}
          role="combobox"
          aria-expanded
          aria-controls={id}
          aria-autocomplete="list"
          aria-activedescendant={shown.length > 0 && marked >= 0 ? `${id}-${marked}` : undefined}
          aria-label={`Find in ${label}`}
          placeholder="Find"
          autoComplete="off"
          fontSize="16px"
          value={choosing.typed ?? ''}
          onChange={(event) => choosing.type(event.target.value)}
          onKeyDown={(event) => {
            if (event.key !== 'Tab') choosing.onKey(event);
          }}
        />
        <ListBox
          id={id}
          labelId={`${id}-label`}
          items={shown}
          marked={marked}
          text={text}
          taken={taken}
          height={Math.round(window.innerHeight * LIST_SHARE)}
          isPhone
          blank={blank}
          onTake={choosing.take}
        />
        <Button size="md" variant="outline" onClick={choosing.hide}>
          Close
        </Button>
      </div>
    </Portal>
  );
}
