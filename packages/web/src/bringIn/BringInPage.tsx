import { Box, FileUpload, Stack, Text } from '@chakra-ui/react';
import type { ReadingChoices, UploadView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { FileDown } from 'lucide-react';
import { useEffect, useState } from 'react';
import { useParams } from 'react-router';
import { request, sayError } from '../api/client';
import { useWorkbook } from '../api/resources';
import { addresses } from '../addresses';
import { useSteady } from '../form/useSteady';
import { PlaceBar } from '../keys/PlaceBar';
import { Notice } from '../ui/Notice';
import { Shell } from '../frame/Shell';
import { Waiting } from '../ui/Waiting';
import { Choice } from '../ui/controls';
import { AddToSheet } from './AddToSheet';
import { Arrival } from './Arrival';
import { takeOnItsWay, usePastedTable } from '../sheet/pastedTable';

/** Brings a file in: choose it, see what it would become, correct that, and only then store it. */
export function BringInPage() {
  const { workbookId } = useParams();
  const { data: workbook } = useWorkbook(workbookId);
  const [upload, setUpload] = useState<UploadView | null>(null);
  const [failure, setFailure] = useState('');
  const [reading, setReading] = useState(false);
  const [locale, setLocale] = useState(navigator.language);
  const [sheetId, setSheetId] = useState('');

  const read = async (work: () => Promise<UploadView>): Promise<void> => {
    setReading(true);
    setFailure('');
    try {
      setUpload(await work());
    } catch (error) {
      setFailure(sayError(error));
    } finally {
      setReading(false);
    }
  };
  const into: Record<string, string> = workbookId === undefined ? { locale } : { workbookId };
  const take = (file: File | undefined): void => {
    if (!file) return;
    void read(() =>
      request('POST', `${paths.uploads(file.name)}&${new URLSearchParams(into).toString()}`, file),
    );
  };
  usePastedTable(take);
  const takeHandedOn = useSteady(() => take(takeOnItsWay() ?? undefined));
  useEffect(() => takeHandedOn(), [takeHandedOn]);
  const readAgain = (choices: ReadingChoices): void => {
    if (choices.locale !== undefined) setLocale(choices.locale);
    if (upload) void read(() => request('POST', paths.preview(upload.id), { ...into, ...choices }));
  };

  return (
    <Shell
      trail={[
        ...(workbook ? [{ label: workbook.name, to: addresses.contents(workbook.id) }] : []),
        { label: 'Bring in a file' },
      ]}
      bar={
        <PlaceBar
          place="Bring in"
          actions={
            upload
              ? [
                  {
                    id: 'another',
                    label: 'Choose another file',
                    key: 'b',
                    run: () => setUpload(null),
                  },
                ]
              : []
          }
        />
      }
    >
      <Stack p={{ base: '4', md: '6' }} gap="5">
        {failure && <Notice tone="refuse">{failure}</Notice>}
        {reading && !upload && <Waiting />}
        {!upload && !reading && (
          <FileUpload.Root
            maxFiles={1}
            maxFileSize={Infinity}
            onFileAccept={({ files }) => take(files[0])}
            maxW="720px"
          >
            <FileUpload.HiddenInput data-testid="file" accept=".csv,.tsv,.txt,text/csv" />
            <FileUpload.Dropzone
              w="full"
              bg="leaf"
              borderColor="edge"
              borderRadius="8px"
              minH="220px"
            >
              <FileDown size={28} aria-hidden />
              <FileUpload.DropzoneContent>
                <Text fontWeight="600">
                  Drop a CSV file here, press to choose one, or paste a copied table
                </Text>
                <Text color="ink.soft">
                  Commas, semicolons, tabs or bars; UTF-8, UTF-16 or Windows-1252. Nothing is stored
                  until you have seen what it becomes.
                </Text>
              </FileUpload.DropzoneContent>
            </FileUpload.Dropzone>
          </FileUpload.Root>
        )}
        {upload && (
          <Box opacity={reading ? 0.6 : 1} aria-busy={reading}>
            {workbook && (
              <Box pb="4">
                <Choice
                  label="Bring in as"
                  value={sheetId}
                  options={[
                    ['', 'A sheet of its own'],
                    ...workbook.sheets
                      .filter(({ hasRecords }) => hasRecords)
                      .map(({ id, name }) => [id, `Rows of ${name}`] as const),
                  ]}
                  onChange={setSheetId}
                />
              </Box>
            )}
            {workbook && sheetId !== '' ? (
              <AddToSheet {...{ upload, workbook, sheetId }} />
            ) : (
              <Arrival
                upload={upload}
                workbook={workbook}
                locale={locale}
                onReadAgain={readAgain}
              />
            )}
          </Box>
        )}
      </Stack>
    </Shell>
  );
}
