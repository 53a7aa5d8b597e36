import { Checkbox, HStack, Input, NativeSelect, Stack, Text } from '@chakra-ui/react';
import type { BringIn, PreviewColumnView, UploadView } from '@varn/contract';
import { kindOf, KINDS, type KindId } from '@varn/core';
import { useFormContext, useWatch } from 'react-hook-form';
import { FileTable, type LeftOutRows } from './FileTable';

/** The kinds a file's column can become. */
const OFFERED = Object.values(KINDS).filter(
  ({ filledBy, typing }) => filledBy === 'people' && typing !== 'none',
);

interface ArrivalTableProps extends LeftOutRows {
  readonly upload: UploadView;
  readonly leftOut: ReadonlySet<number>;
  readonly onLeaveOut: (leftOut: ReadonlySet<number>) => void;
}

/** Rows of the file under the headings and kinds they would get; both can be corrected. */
export function ArrivalTable(props: ArrivalTableProps) {
  const { upload, leftOut, onLeaveOut, without, onWithout } = props;
  const toggle = (index: number, taken: boolean): void =>
    onLeaveOut(
      new Set(taken ? [...leftOut].filter((each) => each !== index) : [...leftOut, index]),
    );
  return (
    <FileTable
      {...{ upload, leftOut, without, onWithout }}
      head={(column) => (
        <ColumnFields
          column={column}
          taken={!leftOut.has(column.index)}
          onTake={(taken) => toggle(column.index, taken)}
        />
      )}
    />
  );
}

interface ColumnFieldsProps {
  readonly column: PreviewColumnView;
  readonly taken: boolean;
  readonly onTake: (taken: boolean) => void;
}

function ColumnFields({ column, taken, onTake }: ColumnFieldsProps) {
  const { register, formState, setValue } = useFormContext<BringIn>();
  const { index, letters, ambiguousDates } = column;
  const kind = useWatch<BringIn, `columns.${number}.kind`>({ name: `columns.${index}.kind` });
  const dateOrder = useWatch<BringIn, `columns.${number}.dateOrder`>({
    name: `columns.${index}.dateOrder`,
  });
  const problem = formState.errors.columns?.[index]?.heading?.message;
  const isDate = kindOf({ kind }).iso !== undefined && kind !== 'time';
  return (
    <Stack gap="1.5">
      <HStack justify="space-between">
        <Text fontFamily="mono" color="ink.soft" fontSize="12px">
          {letters}
        </Text>
        <Checkbox.Root
          size="sm"
          checked={taken}
          onCheckedChange={({ checked }) => onTake(checked === true)}
        >
          <Checkbox.HiddenInput aria-label={`Bring in column ${letters}`} />
          <Checkbox.Control borderColor="edge" />
        </Checkbox.Root>
      </HStack>
      <Input
        size="xs"
        borderColor={problem ? 'madder' : 'edge'}
        fontWeight="600"
        disabled={!taken}
        aria-label={`Heading of column ${letters}`}
        {...register(`columns.${index}.heading`)}
      />
      {problem && (
        <Text color="madder" fontSize="12px">
          {problem}
        </Text>
      )}
      <NativeSelect.Root size="xs" disabled={!taken}>
        <NativeSelect.Field
          borderColor="edge"
          aria-label={`Kind of column ${letters}`}
          value={kind}
          onChange={(event) => setValue(`columns.${index}.kind`, event.target.value as KindId)}
        >
          {OFFERED.map(({ id, label }) => (
            <option key={id} value={id}>
              {label}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      {isDate && taken && (
        <NativeSelect.Root size="xs">
          <NativeSelect.Field
            borderColor={ambiguousDates ? 'amber' : 'edge'}
            aria-label={`Order of day and month in column ${letters}`}
            value={dateOrder}
            onChange={(event) =>
              setValue(`columns.${index}.dateOrder`, event.target.value as 'dmy')
            }
          >
            <option value="dmy">day first</option>
            <option value="mdy">month first</option>
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      )}
      {isDate && taken && ambiguousDates && (
        <Text color="amber" fontSize="12px">
          Could be either: choose one
        </Text>
      )}
    </Stack>
  );
}
