import { Button, HStack, Stack } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import { kindOf, RELATIONS, SIGN_SETS, standsAlone, type Column } from '@varn/core';
import { Choice, Line, Lines, Tick } from '../../ui/controls';
import { SecretWordPart } from './SecretWordPart';
import { RELATION_NAMES, SET_NAMES, testsFor, type TestDraft, type TestId } from './ruleDraft';

interface TestPartProps {
  readonly draft: TestDraft;
  readonly onChange: (draft: TestDraft) => void;
  readonly isOfField: boolean;
  readonly isOneOfSeveral: boolean;
  /** Where it is one of several: takes it out. */
  readonly onRemove?: (() => void) | undefined;
  readonly label: string;
  readonly sheet: SheetView;
  readonly column: Column;
}

/** One condition of a rule: what is chosen, and what is filled in for it. */
export function TestPart(props: TestPartProps) {
  const { draft, onChange, isOfField, isOneOfSeveral, onRemove, label, sheet, column } = props;
  const set = (change: Partial<TestDraft>): void => onChange({ ...draft, ...change });
  return (
    <Stack gap="2" role="group" aria-label={label}>
      <HStack align="end" justify="space-between">
        <Choice
          label={label}
          value={draft.is}
          options={testsFor(column, { isOfField, isOneOfSeveral })}
          onChange={(is) => set({ is: is as TestId, from: '', to: '', text: '', columnId: '' })}
        />
        {onRemove && (
          <Button size="2xs" variant="outline" mb="1.5" onClick={onRemove}>
            Remove it
          </Button>
        )}
      </HStack>
      <TestFields {...{ draft, set, sheet, column }} />
      {!standsAlone(draft) && (
        <Tick label="It must not" checked={draft.not} onChange={(not) => set({ not })} />
      )}
    </Stack>
  );
}

interface TestFieldsProps extends Pick<TestPartProps, 'draft' | 'sheet' | 'column'> {
  readonly set: (change: Partial<TestDraft>) => void;
}

/** What is filled in for the test that was chosen. */
function TestFields({ draft, set, sheet, column }: TestFieldsProps) {
  const { is, text } = draft;
  const others = sheet.columns.filter(({ id }) => id !== column.id);
  const headings = others.map(({ id, heading }) => [id, heading] as const);
  switch (is) {
    case 'between':
    case 'length':
      return (
        <HStack align="end">
          <Line label="At least" value={draft.from} onPut={(from) => set({ from })} />
          <Line label="At most" value={draft.to} onPut={(to) => set({ to })} />
        </HStack>
      );
    case 'multiple':
      return <Line label="Of" value={text} onPut={(of) => set({ text: of })} />;
    case 'within':
      return (
        <Line label="Days before or after" value={text} onPut={(days) => set({ text: days })} />
      );
    case 'contains':
    case 'begins':
    case 'ends':
      return <Line label="Text" value={text} onPut={(part) => set({ text: part })} />;
    case 'picture':
      return (
        <Line
          label="Places"
          hint="A for a letter, 9 for a figure, fixed letters in quotes: 'RW-'999"
          mono
          value={text}
          onPut={(picture) => set({ text: picture })}
        />
      );
    case 'matches':
      return (
        <Line
          label="Pattern"
          hint="A regular expression that the whole text matches: RW-[0-9]+"
          mono
          value={text}
          onPut={(pattern) => set({ text: pattern })}
        />
      );
    case 'oneOf':
      return (
        <Lines
          label="Values"
          hint="One per line"
          value={text}
          onPut={(values) => set({ text: values })}
        />
      );
    case 'phone':
      return (
        <Line
          label="Country"
          hint="Two letters, GB; without one, numbers begin with + and their country’s code"
          value={text}
          onPut={(country) => set({ text: country })}
        />
      );
    case 'madeOf':
      return (
        <>
          {SIGN_SETS.map((each) => (
            <Tick
              key={each}
              label={SET_NAMES[each]}
              checked={draft.sets.includes(each)}
              onChange={(checked) =>
                set({
                  sets: checked
                    ? [...draft.sets, each]
                    : draft.sets.filter((other) => other !== each),
                })
              }
            />
          ))}
          <Line label="And these signs" value={text} onPut={(also) => set({ text: also })} />
        </>
      );
    case 'compared': {
      const isDated = kindOf(column).iso !== undefined;
      return (
        <HStack align="end" wrap="wrap">
          <Choice
            label="It must be"
            value={draft.by}
            options={RELATIONS.map((by) => [by, RELATION_NAMES[by][isDated ? 1 : 0]])}
            onChange={(by) => set({ by: by as TestDraft['by'] })}
          />
          <Choice
            label="Column"
            value={draft.columnId}
            options={[['', 'Choose one'], ...headings]}
            onChange={(columnId) => set({ columnId })}
          />
        </HStack>
      );
    }
    case 'unique':
      return (
        <Choice
          label="Together with"
          value={draft.columnId}
          options={[['', 'No other column'], ...headings]}
          onChange={(columnId) => set({ columnId })}
        />
      );
    case 'secretWord':
      return (
        <>
          <Line
            label="Name of the word"
            hint="Rules with the same name share a word"
            value={text}
            onPut={(name) => set({ text: name })}
          />
          <SecretWordPart key={text} workbookId={sheet.workbookId} name={text.trim()} />
          <Tick
            label="Don’t store what is typed"
            hint="Stored, it can be read by all who see the records"
            checked={draft.forgotten}
            onChange={(forgotten) => set({ forgotten })}
          />
        </>
      );
    default:
      return null;
  }
}
