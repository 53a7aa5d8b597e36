import { Button, Field, Flex, HStack, Input, SimpleGrid, Stack, Text } from '@chakra-ui/react';
import { classValidatorResolver } from '@hookform/resolvers/class-validator';
import {
  BringIn,
  type BroughtIn,
  type ReadingChoices,
  type UploadView,
  type WorkbookView,
} from '@varn/contract';
import { paths } from '@varn/contract/paths';
import { sayCountOf } from '@varn/core';
import { useEffect, useState } from 'react';
import { FormProvider, useForm } from 'react-hook-form';
import { useNavigate } from 'react-router';
import { useSWRConfig } from 'swr';
import { newId } from '../api/newId';
import { request, sayError } from '../api/client';
import { addresses } from '../addresses';
import { Notice } from '../ui/Notice';
import { ArrivalTable } from './ArrivalTable';
import { nameOf, sayOutcomes } from './outcomes';
import { ReadingFields } from './ReadingFields';
import { browserWays } from '../ui/ways';

const resolver = classValidatorResolver(BringIn);

interface ArrivalProps {
  readonly upload: UploadView;
  /** The workbook it goes into; a new one otherwise. */
  readonly workbook: WorkbookView | undefined;
  /** How a new workbook writes dates and numbers. */
  readonly locale: string;
  readonly onReadAgain: (choices: ReadingChoices) => void;
}

/** A name that no other sheet has: `Stations`, `Stations 2`. */
function freeName(name: string, sheets: readonly { readonly name: string }[]): string {
  const taken = new Set(sheets.map((sheet) => sheet.name));
  let free = name;
  for (let n = 2; taken.has(free); n += 1) free = `${name} ${n}`;
  return free;
}

function orderFor(upload: UploadView, workbook: WorkbookView | undefined, locale: string): BringIn {
  const { encoding, delimiter, headingRow, headingRows, keepTotals, guarded, columns, fileName } =
    upload;
  return {
    writeId: newId(),
    ...(workbook
      ? { workbookId: workbook.id }
      : {
          workbookName: nameOf(fileName),
          ...browserWays(),
          locale,
        }),
    sheetName: freeName(nameOf(fileName), workbook?.sheets ?? []),
    encoding,
    delimiter,
    headingRow,
    headingRows,
    keepTotals,
    guarded,
    columns: columns.map(({ index, heading, kind, decimal, dateOrder, decimals }) => ({
      index,
      heading,
      kind,
      decimal,
      dateOrder,
      ...(decimals !== undefined && { decimals }),
    })),
  };
}

/** The columns without heading and values. */
function emptyOf({ columns }: UploadView): ReadonlySet<number> {
  return new Set(columns.filter(({ empty }) => empty).map(({ index }) => index));
}

/** What a file would become, to look at and correct, and the button that brings it in. */
export function Arrival({ upload, workbook, locale, onReadAgain }: ArrivalProps) {
  const { mutate } = useSWRConfig();
  const navigate = useNavigate();
  const [failure, setFailure] = useState('');
  const [seen, setSeen] = useState(upload);
  const [leftOut, setLeftOut] = useState(() => emptyOf(upload));
  const [without, setWithout] = useState<ReadonlySet<number>>(new Set());
  const form = useForm<BringIn>({
    resolver,
    mode: 'onTouched',
    defaultValues: orderFor(upload, workbook, locale),
  });
  const { register, handleSubmit, reset, getValues, formState } = form;

  useEffect(() => {
    const { workbookName, sheetName } = getValues();
    const order = orderFor(upload, workbook, locale);
    reset({ ...order, sheetName, ...(order.workbookName !== undefined && { workbookName }) });
  }, [upload, workbook, locale, reset, getValues]);
  // Read in another way, the file has other columns: those to leave out are told anew.
  if (seen !== upload) {
    setSeen(upload);
    setLeftOut(emptyOf(upload));
    setWithout(new Set());
  }

  const bringIn = async (order: BringIn): Promise<void> => {
    try {
      const columns = order.columns.filter(({ index }) => !leftOut.has(index));
      const brought = await request<BroughtIn>('POST', paths.bringIn(upload.id), {
        ...order,
        columns,
        ...(without.size > 0 && { without: [...without] }),
      });
      // Brought in, the file has done its work; the server forgets it anyway within a day.
      void request('DELETE', paths.upload(upload.id)).catch(() => undefined);
      await Promise.all([mutate(paths.workbooks), mutate(paths.workbook(brought.workbookId))]);
      await navigate(addresses.sheet(brought.workbookId, brought.sheetId));
    } catch (error) {
      setFailure(sayError(error));
    }
  };

  const outcomes = sayOutcomes(upload);
  const kept = upload.columns.length - leftOut.size;
  return (
    <FormProvider {...form}>
      <Stack asChild gap="5">
        <form noValidate onSubmit={(event) => void handleSubmit(bringIn)(event)}>
          <Flex gap="5" wrap="wrap" align="end">
            {!workbook && (
              <Field.Root invalid={!!formState.errors.workbookName} w="260px">
                <Field.Label>Name of the new workbook</Field.Label>
                <Input size="sm" bg="leaf" borderColor="edge" {...register('workbookName')} />
                <Field.ErrorText>{formState.errors.workbookName?.message}</Field.ErrorText>
              </Field.Root>
            )}
            <Field.Root invalid={!!formState.errors.sheetName} w="260px">
              <Field.Label>Name of the sheet</Field.Label>
              <Input size="sm" bg="leaf" borderColor="edge" {...register('sheetName')} />
              <Field.ErrorText>{formState.errors.sheetName?.message}</Field.ErrorText>
            </Field.Root>
            <Button type="submit" size="sm" loading={formState.isSubmitting} disabled={kept === 0}>
              Bring in {sayCountOf(upload.records - without.size, 'record')},{' '}
              {sayCountOf(kept, 'column')}
            </Button>
          </Flex>
          {failure && <Notice tone="refuse">{failure}</Notice>}
          <ReadingFields
            upload={upload}
            locale={workbook ? null : locale}
            onReadAgain={onReadAgain}
          />
          {outcomes.length > 0 && (
            <SimpleGrid
              as="ul"
              listStyleType="none"
              columns={{ base: 1, xl: 2 }}
              columnGap="6"
              rowGap="1"
            >
              {outcomes.map((outcome) => (
                <HStack as="li" key={outcome}>
                  <Notice tone="note">
                    <Text as="span" color="ink">
                      {outcome}
                    </Text>
                  </Notice>
                </HStack>
              ))}
            </SimpleGrid>
          )}
          <ArrivalTable
            upload={upload}
            leftOut={leftOut}
            onLeaveOut={setLeftOut}
            without={without}
            onWithout={setWithout}
          />
        </form>
      </Stack>
    </FormProvider>
  );
}
