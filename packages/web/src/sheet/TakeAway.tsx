import { Button, CloseButton, Dialog, Portal, Stack } from '@chakra-ui/react';
import { paths } from '@varn/contract/paths';
import { useState } from 'react';
import { Choice, Tick } from '../ui/controls';

interface TakeAwayProps {
  readonly sheetId: string;
  /** Whether rows stand above the heading. */
  readonly hasTop: boolean;
  readonly open: boolean;
  readonly onClose: () => void;
}

/** Takes a sheet away as a CSV file, guarded unless one says otherwise. */
export function TakeAway({ sheetId, hasTop, open, onClose }: TakeAwayProps) {
  const [guarded, setGuarded] = useState(true);
  const [separator, setSeparator] = useState('comma');
  const [decimals, setDecimals] = useState('point');
  const [encoding, setEncoding] = useState('utf8');
  const [withTop, setWithTop] = useState(false);
  const ways = { separator, decimals, encoding, ...(withTop && { top: 'on' }) };
  return (
    <Dialog.Root open={open} onOpenChange={(details) => !details.open && onClose()}>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content bg="leaf">
            <Dialog.Header>
              <Dialog.Title>Take the sheet away as CSV</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              <Stack gap="3">
                <Choice
                  label="Between cells"
                  value={separator}
                  options={[
                    ['comma', 'Comma'],
                    ['semicolon', 'Semicolon'],
                    ['tab', 'Tab'],
                  ]}
                  onChange={setSeparator}
                />
                <Choice
                  label="Decimals"
                  value={decimals}
                  options={[
                    ['point', 'Point: 7.5'],
                    ['comma', 'Comma: 7,5'],
                  ]}
                  onChange={setDecimals}
                />
                <Choice
                  label="Encoding"
                  value={encoding}
                  options={[
                    ['utf8', 'UTF-8'],
                    ['utf8Marked', 'UTF-8 with a byte order mark'],
                    ['utf16', 'UTF-16 (little-endian)'],
                  ]}
                  onChange={setEncoding}
                />
                {hasTop && (
                  <Tick
                    label="With the rows above the heading"
                    checked={withTop}
                    onChange={setWithTop}
                  />
                )}
                <Tick
                  label="Protect texts that look like formulas"
                  hint="Puts ' before them. Varn removes it when the file comes back. Dates are written as 2026-03-28."
                  checked={guarded}
                  onChange={setGuarded}
                />
              </Stack>
            </Dialog.Body>
            <Dialog.Footer>
              <Button asChild onClick={onClose}>
                <a href={paths.csv(sheetId, guarded ? 'on' : 'off', '', ways)} download>
                  Take away
                </a>
              </Button>
            </Dialog.Footer>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
