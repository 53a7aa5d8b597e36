import { createListCollection, Dialog, Listbox, Portal, Text } from '@chakra-ui/react';
import { foldText } from '@varn/core';
import { useEffect, useEffectEvent, useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { useWorkbook, useWorkbooks } from '../api/resources';
import { addresses } from '../addresses';

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
}

/** Goes anywhere: type some of a place's name, Enter goes there. */
export function Finder(props: FinderProps) {
  const { onClose } = props;
  return (
    <Dialog.Root open onOpenChange={(details) => !details.open && onClose()} placement="top">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="leaf" p="3" aria-label="Find a place">
            <Places {...props} />
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}

function Places({ typed, onType, isEntered, onClose }: FinderProps) {
  const [isMarked, setMarked] = useState(false);
  const navigate = useNavigate();
  const places = usePlaces();
  const collection = useMemo(() => {
    const words = foldText(typed).split(' ');
    const fits = ({ label, within }: Place): boolean => {
      const text = foldText(`${label} ${within}`);
      return words.every((word) => text.includes(word));
    };
    return createListCollection({ items: places.filter(fits) });
  }, [typed, places]);

  const first = collection.items[0]?.value;
  const goTo = (value: string): void => {
    onClose();
    void navigate(value);
  };
  const onEntered = useEffectEvent(() => {
    if (isEntered && first) goTo(first);
  });
  useEffect(() => onEntered(), [isEntered, first]);

  return (
    <Listbox.Root
      collection={collection}
      onHighlightChange={({ highlightedValue }) => setMarked(highlightedValue !== null)}
      onSelect={({ value }) => goTo(value)}
    >
      <Listbox.Label srOnly>Places</Listbox.Label>
      <Listbox.Input
        autoHighlight
        placeholder="Go to a sheet, a form, a workbook…"
        value={typed}
        onChange={(event) => onType(event.target.value)}
        onKeyDown={(event) => {
          // What was typed before it stood here marks nothing yet.
          if (event.key === 'Enter' && !isMarked && first) goTo(first);
        }}
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

function usePlaces(): Place[] {
  const { workbookId } = useParams();
  const { data: workbooks } = useWorkbooks();
  const { data: workbook } = useWorkbook(workbookId);
  return useMemo(
    () => [
      ...(workbook?.sheets ?? []).flatMap((sheet): Place[] => [
        {
          label: sheet.name,
          within: `Sheet of ${workbook?.name ?? ''}`,
          value: addresses.sheet(workbook?.id ?? '', sheet.id),
        },
        ...sheet.forms.map((form) => ({
          label: form.name,
          within: `Form into ${sheet.name}`,
          value: addresses.desk(workbook?.id ?? '', form.id),
        })),
      ]),
      ...(workbooks ?? []).map(({ id, name }) => ({
        label: name,
        within: 'Workbook',
        value: addresses.contents(id),
      })),
      { label: 'Workbooks', within: 'All of them', value: addresses.workbooks },
      { label: 'Bring in a file', within: 'New workbook', value: addresses.bringIn() },
    ],
    [workbook, workbooks],
  );
}
