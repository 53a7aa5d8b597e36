import { Button, HStack, Stack, Text } from '@chakra-ui/react';
import { sayFormCheck, type FormCheck } from '@varn/core';
import { Notice } from '../ui/Notice';

/** What cures a check with one click, and what the click is called. */
export interface Cure {
  readonly label: string;
  readonly run: () => void;
}

interface ChecksPartProps {
  readonly checks: readonly FormCheck[];
  readonly call: (id: string) => string;
  readonly cureOf: (check: FormCheck) => Cure | null;
}

/** What should be seen to before the form is put to use, each with its cure. */
export function ChecksPart({ checks, call, cureOf }: ChecksPartProps) {
  if (checks.length === 0) return <Text color="pine">No problems found.</Text>;
  return (
    <Stack as="ul" gap="1" listStyleType="none" maxH="30dvh" overflow="auto">
      {checks.map((check) => {
        const cure = cureOf(check);
        const says = sayFormCheck(check, call);
        return (
          <HStack as="li" key={`${check.code}/${says}`} gap="3" wrap="wrap">
            <Notice tone={check.strictness}>{says}</Notice>
            {cure && (
              <Button size="2xs" variant="outline" onClick={cure.run}>
                {cure.label}
              </Button>
            )}
          </HStack>
        );
      })}
    </Stack>
  );
}
