import { HStack } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import type { Column } from '@varn/core';
import { Choice, Line } from '../../ui/controls';
import { ALWAYS, type WhenDraft } from './ruleDraft';

interface WhenPartProps {
  readonly when: WhenDraft;
  readonly onChange: (when: WhenDraft) => void;
  readonly sheet: SheetView;
  readonly column: Column;
}

const HOW: readonly (readonly [WhenDraft['how'], string])[] = [
  ['is', 'is'],
  ['isNot', 'is not'],
  ['answer', 'is filled in'],
  ['blank', 'is blank'],
];

/** When a rule is asked: always, or by what another column holds. */
export function WhenPart({ when, onChange, sheet, column }: WhenPartProps) {
  const others = sheet.columns.filter(({ id }) => id !== column.id);
  const { columnId, how, text } = when;
  return (
    <HStack align="end" wrap="wrap">
      <Choice
        label="When"
        value={columnId}
        options={[['', 'Always'], ...others.map(({ id, heading }) => [id, heading] as const)]}
        onChange={(id) => onChange(id === '' ? ALWAYS : { ...when, columnId: id })}
      />
      {columnId !== '' && (
        <Choice
          label="How"
          value={how}
          options={HOW}
          onChange={(next) => onChange({ ...when, how: next as WhenDraft['how'] })}
        />
      )}
      {columnId !== '' && (how === 'is' || how === 'isNot') && (
        <Line
          label="Value"
          width="120px"
          value={text}
          onPut={(next) => onChange({ ...when, text: next })}
        />
      )}
    </HStack>
  );
}
