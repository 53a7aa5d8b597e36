import { Box, Heading, Stack, Text } from '@chakra-ui/react';
import type { ListCountsView, ListTroubleView, ListUseView } from '@varn/contract';
import { sayCountOf } from '@varn/core';
import { type ReactNode } from 'react';
import { addresses } from '../addresses';
import { Notice } from '../ui/Notice';
import { TextLink } from '../ui/TextLink';

/** What a list offers and leaves out: `46 choices, 1 blank skipped, 1 double dropped`. */
export function sayCounts({ items, blanks, doubles, errors }: ListCountsView): string {
  return [
    sayCountOf(items, 'choice'),
    blanks > 0 ? `${sayCountOf(blanks, 'blank')} skipped` : '',
    doubles > 0 ? `${sayCountOf(doubles, 'double')} dropped` : '',
    errors > 0 ? `${sayCountOf(errors, 'error')} left out` : '',
  ]
    .filter((each) => each !== '')
    .join(', ');
}

const TONES = { broken: 'refuse', empty: 'note' } as const;

/** What is wrong with a list, each with what can be done about it. */
export function Troubles({
  troubles,
  cureOf,
}: {
  readonly troubles: readonly ListTroubleView[];
  readonly cureOf?: (trouble: ListTroubleView) => ReactNode;
}) {
  if (troubles.length === 0) return <Notice tone="settled">All is well.</Notice>;
  return (
    <Stack as="ul" listStyleType="none" gap="2">
      {troubles.map((trouble) => (
        <Box as="li" key={`${trouble.code} ${trouble.columnId ?? ''}`}>
          <Notice
            tone={
              trouble.code === 'broken' || trouble.code === 'empty' ? TONES[trouble.code] : 'ask'
            }
          >
            {trouble.says}
          </Notice>
          {cureOf?.(trouble)}
        </Box>
      ))}
    </Stack>
  );
}

/** The forms a column is on, after the column: `, form ‘Log a sample’`. */
function sayForms(forms: readonly string[]): string {
  const names = forms.map((name) => `‘${name}’`).join(', ');
  return `, ${forms.length === 1 ? 'form' : 'forms'} ${names}`;
}

/** A column that a list feeds, and the forms that have it as a field. */
export function Use({ use, workbookId }: { use: ListUseView; workbookId: string }) {
  const { sheetId, sheet, heading, forms } = use;
  return (
    <>
      <TextLink to={addresses.sheet(workbookId, sheetId)}>
        {heading} in ‘{sheet}’
      </TextLink>
      {forms.length > 0 && (
        <Text as="span" color="ink.soft">
          {sayForms(forms)}
        </Text>
      )}
    </>
  );
}

export function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Box as="section" aria-label={title}>
      <Heading as="h2" size="sm" mb="2">
        {title}
      </Heading>
      {children}
    </Box>
  );
}
