import { Text } from '@chakra-ui/react';
import { Notice } from '../ui/Notice';
import type { Composing } from './useCompose';

interface KeepingWordProps {
  readonly composing: Composing;
  /** The version in use; 0 where none is. */
  readonly version: number;
  /** Whether the draft differs from it. */
  readonly changed: boolean;
}

/** Whether what was laid out is kept, and what stands in the way if it is not. */
export function KeepingWord({ composing, version, changed }: KeepingWordProps) {
  const { keeping } = composing;
  switch (keeping.is) {
    case 'keeping':
      return <Text color="ink.soft">Saving…</Text>;
    case 'waiting':
      return (
        <Notice tone="ask">
          Not saved yet. {keeping.why.message} {keeping.why.meanwhile}
        </Notice>
      );
    case 'refused':
      return <Notice tone="refuse">Not saved: {keeping.message}</Notice>;
    case 'contested':
      return <Notice tone="ask">Not saved: someone else changed this form.</Notice>;
    case 'kept':
      return (
        <Text color="ink.soft" hideBelow="lg">
          {changed || composing.undo
            ? 'Draft saved'
            : version > 0
              ? `Version ${version} in use`
              : 'Not in use yet'}
        </Text>
      );
  }
}
