import { Button, HStack } from '@chakra-ui/react';
import { lazy, Suspense, useState } from 'react';
import { Line } from '../ui/controls';

/** Loaded when a range is first picked: it brings the grid with it. */
const RangePicker = lazy(async () => ({ default: (await import('./RangePicker')).RangePicker }));

interface RangeFieldProps {
  readonly label: string;
  readonly workbookId: string;
  /** The sheet the range is of, or is picked in first. */
  readonly sheetId: string;
  /** Whether the range may be of another sheet; it is written with its name then. */
  readonly anySheet?: boolean;
  readonly value: string;
  readonly onPut: (range: string) => void;
}

/** A field that wants a range: typed, or picked in the grid. */
export function RangeField(props: RangeFieldProps) {
  const { label, workbookId, sheetId, anySheet = false, value, onPut } = props;
  const [picking, setPicking] = useState(false);
  return (
    <HStack align="end">
      <Line label={label} value={value} mono onPut={(text) => onPut(text.trim())} />
      <Button size="sm" variant="outline" onClick={() => setPicking(true)}>
        Pick
      </Button>
      {picking && (
        <Suspense>
          <RangePicker
            title={`Pick: ${label}`}
            workbookId={workbookId}
            sheetId={sheetId}
            anySheet={anySheet}
            onPicked={(range) => {
              setPicking(false);
              if (range !== null) onPut(range);
            }}
          />
        </Suspense>
      )}
    </HStack>
  );
}
