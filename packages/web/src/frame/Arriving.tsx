import { Box } from '@chakra-ui/react';
import { sayError } from '../api/client';
import { Notice } from '../ui/Notice';
import { Shell } from './Shell';
import { Waiting } from '../ui/Waiting';

interface ArrivingProps {
  readonly trail: Parameters<typeof Shell>[0]['trail'];
  /** What kept the place from being read, if anything did. */
  readonly error: unknown;
}

/** A place that is not there yet: it is being read, or can't be. */
export function Arriving({ trail, error }: ArrivingProps) {
  return (
    <Shell trail={trail}>
      {error ? (
        <Box p="6">
          <Notice tone="refuse">{sayError(error)}</Notice>
        </Box>
      ) : (
        <Waiting />
      )}
    </Shell>
  );
}
