import { createListCollection, Dialog, Listbox, Portal, Text } from '@chakra-ui/react';
import type { PlaceEntry, WorkbookView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { foldText } from '@varn/core';
import {
  useEffect,
  useEffectEvent,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type RefObject,
} from 'react';
import { useNavigate, useParams } from 'react-router';
import useSWR from 'swr';
import { addresses, workbookPlaces } from '../addresses';
import { get } from '../api/client';
import { useWorkbook } from '../api/resources';

/** Places shown at once, and kept in mind. */
const MOST_SHOWN = 60;
const MOST_KEPT = 200;
/** Before the id of what can be done. */
const ACTION = 'action:';

interface Place {
  readonly label: string;
  readonly within: string;
  readonly value: string;
}

interface FinderProps {
  readonly typed: string;
  readonly onType: (typed: string) => void;
  /** Whether Enter was pressed while it was on its way: it goes to the first place. */
  readonly isEntered: boolean;
  readonly onClose: () => void;
  /** What can be done where one is. */
  readonly actions: readonly FoundAction[];
}

interface FoundAction {
  readonly id: string;
  readonly label: string;
  readonly run: () => void;
  readonly disabled?: boolean;
}

/** Goes anywhere: type some of a place's name, Enter goes there. */
export function Finder(props: FinderProps) {
  const { onClose } = props;
  const input = useRef<HTMLInputElement>(null);
  return (
    <Dialog.Root
      open
      onOpenChange={(details) => !details.open && onClose()}
      placement="top"
      initialFocusEl={() => input.current}
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="leaf" p="3" aria-label="Find a place">
            <Places {...props} input={input} />
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}

/** Keys that mark a place of the list. */
const MARKING: ReadonlySet<string> = new Set(['ArrowDown', 'ArrowUp', 'Home', 'End']);

type PlacesProps = FinderProps & { readonly input: RefObject<HTMLInputElement | null> };

function Places({ typed, onType, isEntered, onClose, actions, input }: PlacesProps) {
  // Only what was marked by hand: a list that is drawn anew marks what it likes.
  const [marked, setMarked] = useState<string | null>(null);
  const isMarking = useRef(false);
  const navigate = useNavigate();
  const { places, isLoading } = usePlaces(actions);
  // Entered before the places were here, it goes to the first once they are.
  const [isAwaited, setAwaited] = useState(false);
  const collection = useMemo(() => {
    const words = foldText(typed).split(' ');
    const times = gone();
    const score = ({ label, within, value }: Place): number => {
      const text = foldText(`${label} ${within}`);
      if (!words.every((word) => text.includes(word))) return -1;
      // What is gone to often comes first, then what begins as it is typed.
      const begins = foldText(label).startsWith(words[0] ?? '') ? 1 : 0;
      return Math.min(9, Number(times[value]) || 0) * 2 + begins;
    };
    const found = places
      .map((place) => ({ place, score: score(place) }))
      .filter((each) => each.score >= 0)
      .sort((one, other) => other.score - one.score)
      .slice(0, MOST_SHOWN);
    return createListCollection({ items: found.map(({ place }) => place) });
  }, [typed, places]);

  const first = collection.items[0]?.value;
  const at = collection.items.find(({ value }) => value === marked)?.value ?? first ?? null;
  const goTo = (value: string): void => {
    onClose();
    noteGone(value);
    const action = actions.find(({ id }) => `${ACTION}${id}` === value);
    if (action) action.run();
    else void navigate(value);
  };
  const onEntered = useEffectEvent(() => {
    if ((isEntered || isAwaited) && first) goTo(first);
  });
  useEffect(() => onEntered(), [isEntered, isAwaited, first]);

  const type = (text: string): void => {
    setAwaited(false);
    setMarked(null);
    onType(text);
  };
  const onKey = (event: KeyboardEvent): void => {
    const { key } = event;
    isMarking.current = MARKING.has(key);
    // Wherever in it the focus was put, letters are typed, and are no search of the list's own.
    const isLetter = key.length === 1 && !event.ctrlKey && !event.metaKey && !event.altKey;
    const isElsewhere = isLetter && event.target !== input.current;
    if (key !== 'Enter' && !isElsewhere) return;
    event.preventDefault();
    event.stopPropagation();
    if (isElsewhere) {
      input.current?.focus();
      type(typed + key);
    } else if (at !== null) goTo(at);
    else setAwaited(isLoading);
  };

  return (
    <Listbox.Root
      collection={collection}
      highlightedValue={at}
      onHighlightChange={({ highlightedValue }) => {
        if (isMarking.current) setMarked(highlightedValue);
      }}
      onPointerMoveCapture={() => (isMarking.current = true)}
      onSelect={({ value }) => goTo(value)}
      onKeyDownCapture={onKey}
    >
      <Listbox.Label srOnly>Places</Listbox.Label>
      <Listbox.Input
        ref={input}
        placeholder="Sheet, form, column, workbook or action…"
        px="3"
        value={typed}
        onChange={(event) => type(event.target.value)}
      />
      <Listbox.Content maxH="50vh">
        {collection.items.map((place) => (
          <Listbox.Item item={place} key={place.value}>
            <Listbox.ItemText>{place.label}</Listbox.ItemText>
            <Text as="span" color="ink.soft">
              {place.within}
            </Text>
          </Listbox.Item>
        ))}
        <Listbox.Empty>Nothing matches ‘{typed.trim()}’.</Listbox.Empty>
      </Listbox.Content>
    </Listbox.Root>
  );
}

const PLACES: readonly Place[] = [
  { label: 'Workbooks', within: 'All of them', value: addresses.workbooks },
  { label: 'Bring in a file', within: 'New workbook', value: addresses.bringIn() },
  { label: 'Start a blank workbook', within: 'New workbook', value: addresses.start },
];

function usePlaces(actions: readonly FoundAction[]): {
  places: readonly Place[];
  isLoading: boolean;
} {
  const { workbookId } = useParams();
  const { data: workbook } = useWorkbook(workbookId);
  const { data, isLoading } = useSWR(paths.places, () => get<PlaceEntry[]>(paths.places));
  const places = useMemo(() => {
    const all = data ?? [];
    // Those of the workbook one is in come first.
    const here = all.filter((each) => each.workbookId === workbookId);
    const elsewhere = all.filter((each) => each.workbookId !== workbookId);
    const done = actions.filter(({ id, disabled }) => id !== 'finder' && disabled !== true);
    return [
      ...here.map(placeOf),
      ...done.map(({ id, label }) => ({ label, within: 'Do it here', value: `${ACTION}${id}` })),
      ...(workbook ? ownPlaces(workbook) : []),
      ...elsewhere.map(placeOf),
      ...PLACES,
    ];
  }, [data, workbookId, workbook, actions]);
  return { places, isLoading };
}

const ownPlaces = ({ id, role }: WorkbookView): Place[] =>
  [{ label: 'Contents', to: addresses.contents }, ...workbookPlaces(role)].map(({ label, to }) => ({
    label,
    within: 'This workbook',
    value: to(id),
  }));

function placeOf({
  is,
  workbookId,
  workbook,
  sheetId = '',
  sheet = '',
  label,
  id = '',
}: PlaceEntry) {
  const inSheet = addresses.sheet(workbookId, sheetId);
  switch (is) {
    case 'workbook':
      return { label, within: 'Workbook', value: addresses.contents(workbookId) };
    case 'sheet':
      return { label, within: `Sheet in ${workbook}`, value: inSheet };
    case 'form':
      return { label, within: `Form for ${sheet}`, value: addresses.desk(workbookId, id) };
    case 'column':
      return {
        label,
        within: `Column of ${sheet}`,
        value: `${inSheet}?column=${encodeURIComponent(id)}`,
      };
    case 'name':
      return { label, within: `Range in ${sheet}`, value: inSheet };
  }
}

/** How often one went to a place, in this browser. */
const GONE = 'varn.places';

function gone(): Record<string, number> {
  try {
    const held: unknown = JSON.parse(localStorage.getItem(GONE) ?? '{}');
    return typeof held === 'object' && held !== null ? (held as Record<string, number>) : {};
  } catch {
    return {};
  }
}

function noteGone(value: string): void {
  const times = gone();
  const all = Object.entries({ ...times, [value]: (Number(times[value]) || 0) + 1 });
  const kept = all.sort(([, one], [, other]) => other - one).slice(0, MOST_KEPT);
  try {
    localStorage.setItem(GONE, JSON.stringify(Object.fromEntries(kept)));
  } catch {
    // Without room the finder works as before, in its usual order.
  }
}
