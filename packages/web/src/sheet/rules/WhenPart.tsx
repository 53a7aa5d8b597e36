import { HStack } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import { asShown, kindOf, type Column } from '@varn/core';
import { Choice, Line } from '../../ui/controls';
import { ALWAYS, BEYOND, RELATION_NAMES, type WhenDraft } from './ruleDraft';

interface WhenPartProps {
  readonly when: WhenDraft;
  readonly onChange: (when: WhenDraft) => void;
  readonly sheet: SheetView;
  readonly column: Column;
}

type How = readonly (readonly [WhenDraft['how'], string])[];

/** What can be asked of a column: of what has a size or a day, on which side of one it lies. */
function howOf(column: Column | undefined): How {
  const { holds, iso } = column ? kindOf(asShown(column)) : {};
  const sides: How =
    holds === 'number'
      ? BEYOND.map((by) => [by, `is ${RELATION_NAMES[by][iso === undefined ? 0 : 1]}`])
      : [];
  return [
    ['is', 'is'],
    ['isNot', 'is not'],
    ...sides,
    ['answer', 'is filled in'],
    ['blank', 'is blank'],
  ];
}

/** When a rule is asked: always, or by what another column holds. */
export function WhenPart({ when, onChange, sheet, column }: WhenPartProps) {
  const others = sheet.columns.filter(({ id }) => id !== column.id);
  const { columnId, how, text } = when;
  const howIn = (id: string): How => howOf(others.find((each) => each.id === id));
  const choose = (id: string): WhenDraft => {
    if (id === '') return ALWAYS;
    const isThere = howIn(id).some(([each]) => each === how);
    return { ...when, columnId: id, ...(!isThere && { how: 'is' }) };
  };
  return (
    <HStack align="end" wrap="wrap">
      <Choice
        label="When"
        value={columnId}
        options={[['', 'Always'], ...others.map(({ id, heading }) => [id, heading] as const)]}
        onChange={(id) => onChange(choose(id))}
      />
      {columnId !== '' && (
        <Choice
          label="How"
          value={how}
          options={howIn(columnId)}
          onChange={(next) => onChange({ ...when, how: next as WhenDraft['how'] })}
        />
      )}
      {columnId !== '' && how !== 'answer' && how !== 'blank' && (
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
