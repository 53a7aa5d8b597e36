import { Box, Button, Field, Input, Stack, Text } from '@chakra-ui/react';
import type { WorkbookView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { mayAs } from '@varn/contract/roles';
import { useRef, useState, type SubmitEvent } from 'react';
import { useParams } from 'react-router';
import { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { request, sayError } from '../api/client';
import { newId } from '../api/newId';
import { useWorkbook } from '../api/resources';
import { Arriving } from '../frame/Arriving';
import { Shell } from '../frame/Shell';
import { PlaceBar } from '../keys/PlaceBar';
import { Notice } from '../ui/Notice';
import { sampleOf, type Ways } from '../ui/ways';
import { WaysFields } from './WaysFields';

/** What a workbook is called, and how it reads and shows dates, numbers and money. */
export function SettingsPage() {
  const { workbookId } = useParams();
  const { data: workbook, error } = useWorkbook(workbookId);
  if (!workbook) return <Arriving trail={[{ label: 'Settings' }]} error={error} />;
  return (
    <Shell
      trail={[{ label: workbook.name, to: addresses.contents(workbook.id) }, { label: 'Settings' }]}
      bar={<PlaceBar place="Settings" actions={[]} />}
    >
      <Settings key={workbook.id} workbook={workbook} />
    </Shell>
  );
}

function Settings({ workbook }: { readonly workbook: WorkbookView }) {
  const { id, role } = workbook;
  const [name, setName] = useState(workbook.name);
  const [ways, setWays] = useState<Ways>(workbook);
  const [now] = useState(() => new Date());
  const [told, setTold] = useState<{ tone: 'settled' | 'refuse'; says: string } | null>(null);
  const writeId = useRef(newId());
  const { mutate } = useSWRConfig();
  const mayChange = mayAs(role, 'analyst');
  const [before, after] = [sampleOf(workbook, now), sampleOf(ways, now)];

  const save = async (): Promise<void> => {
    const { locale, timeZone, currency } = ways;
    const body = { writeId: writeId.current, name: name.trim(), locale, timeZone, currency };
    writeId.current = newId();
    try {
      await request<WorkbookView>('PATCH', paths.workbook(id), body);
      setTold({ tone: 'settled', says: 'Settings saved.' });
    } catch (error) {
      setTold({ tone: 'refuse', says: sayError(error) });
    }
    // Whatever shows a value shows it anew.
    await mutate(() => true);
  };
  return (
    <Box
      as="form"
      p={{ base: '4', md: '8' }}
      onSubmit={(event: SubmitEvent) => {
        event.preventDefault();
        if (name.trim() === '') setTold({ tone: 'refuse', says: 'The workbook has no name yet.' });
        else void save();
      }}
    >
      <Stack
        as="fieldset"
        gap="4"
        maxW="460px"
        borderWidth="0"
        {...(!mayChange && { disabled: true })}
      >
        <Field.Root>
          <Field.Label>Workbook name</Field.Label>
          <Input
            enterKeyHint="done"
            bg="leaf"
            borderColor="edge"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </Field.Root>
        <WaysFields ways={ways} onChange={setWays} />
        <Box role="status" fontSize="13px">
          {before === after ? (
            <Text color="ink.soft">Values look like this: {before}</Text>
          ) : (
            <>
              <Text color="ink.soft">Now: {before}</Text>
              <Text fontWeight="600">After saving: {after}</Text>
              <Text color="ink.soft">
                Stored values stay the same; they are shown and typed in the new way. The currency
                is for money columns added from now on.
              </Text>
            </>
          )}
        </Box>
        {told && (
          <Box role="status">
            <Notice tone={told.tone}>{told.says}</Notice>
          </Box>
        )}
        {mayChange ? (
          <Button type="submit" alignSelf="start">
            Save
          </Button>
        ) : (
          <Text color="ink.soft">Only the workbook’s analysts can change its settings.</Text>
        )}
      </Stack>
    </Box>
  );
}
