import { Button, HStack } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import { sayCount } from '@varn/core';
import { useState } from 'react';
import type { FormFilling } from '../form/useFilling';
import { Notice } from '../ui/Notice';
import { useKnownKey } from './useKnownKey';

interface KnownKeyProps {
  readonly form: FormView;
  readonly filled: FormFilling;
  readonly isOn: boolean;
  readonly onOpen: (recordId: string) => void;
}

/** A key that a stored record has, typed into a new one: that record is offered. */
export function KnownKey({ form, filled, isOn, onOpen }: KnownKeyProps) {
  const known = useKnownKey(form, filled, isOn);
  const [passedOver, setPassedOver] = useState('');
  if (!known || known.id === passedOver) return null;
  return (
    <HStack mb="3" gap="3" role="status" wrap="wrap" maxW="1040px" mx="auto">
      <Notice tone="ask">
        {known.name} is stored already, in row {sayCount(known.row)}.
      </Notice>
      <Button size="xs" variant="outline" minH="28px" onClick={() => onOpen(known.id)}>
        Open {known.name}
      </Button>
      <Button size="xs" variant="ghost" minH="28px" onClick={() => setPassedOver(known.id)}>
        Go on typing
      </Button>
    </HStack>
  );
}
