import { Box, Flex, HStack, Text } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import {
  sayCountOf,
  sayOutlineProblem,
  writeOutline,
  type Column,
  type OutlinedForm,
  type OutlineProblem,
} from '@varn/core';
import { useDeferredValue, useMemo, useRef } from 'react';
import { FormBody } from '../form/FormBody';
import { useFilling } from '../form/useFilling';
import { Notice } from '../ui/Notice';
import { newId } from '../api/newId';
import { placeOf } from './addLine';
import type { Layout } from './edits';
import { readTyped, type TypedOutline } from './typedOutline';
import type { Composing } from './useCompose';

/** How many problems are listed at once. */
const MOST_SHOWN = 6;

interface OutlineEditorProps {
  readonly composing: Composing;
  readonly form: FormView;
  /** What was typed last; lines that can't be read wait in it while the page is looked at. */
  readonly typed: TypedOutline | null;
  readonly onTyped: (typed: TypedOutline | null) => void;
  readonly onName: (name: string) => void;
}

/** The form as plain lines, with its live picture beside them. */
export function OutlineEditor({ composing, form, typed, onTyped, onName }: OutlineEditorProps) {
  const { layout, columns } = composing;
  // The text that is typed stands as it is typed; the form's own writing comes back on leaving it,
  // and when the form was changed otherwise. What could not be read of the text then follows it.
  const isOld = typed !== null && typed.layout !== layout;
  const unread = isOld ? unreadLines(typed) : '';
  const held = isOld ? null : typed;
  const written = useMemo(
    () => (held ? '' : writeOutline(outlinedForm(form, layout, columns))),
    [held, form, layout, columns],
  );
  const text = held?.text ?? written + unread;
  const area = useRef<HTMLTextAreaElement>(null);
  // While one types the text has an undo of its own; afterwards all of it is one step.
  const sitting = useRef(newId());
  const problems = held?.reading.problems ?? [];

  const onType = (next: string): void => {
    const read = readTyped(next, composing, held);
    onTyped(read);
    composing.edit(() => read.layout, sitting.current);
  };
  const goTo = (problem: OutlineProblem): void => {
    const at = placeOf(text, problem);
    area.current?.focus();
    area.current?.setSelectionRange(at, at);
  };

  return (
    <Flex gap="4" h="full" p="4" direction={{ base: 'column', xl: 'row' }}>
      <Flex direction="column" flex="1" minW="0" minH="240px" gap="2">
        <textarea
          ref={area}
          className="outline-text"
          aria-label="Outline of the form"
          aria-describedby="outline-problems"
          spellCheck={false}
          value={text}
          onFocus={() => {
            sitting.current = newId();
          }}
          onChange={(event) => onType(event.target.value)}
          onBlur={() => {
            const { reading } = held ?? {};
            if (reading?.name !== undefined && reading.name !== form.name) onName(reading.name);
            if (problems.length === 0 && unread === '') onTyped(null);
          }}
        />
        <Box id="outline-problems" role="status" minH="22px">
          {problems.slice(0, MOST_SHOWN).map((problem) => (
            <HStack key={`${problem.line}/${problem.column}/${problem.code}`} gap="2">
              <button type="button" className="field-mean" onClick={() => goTo(problem)}>
                Line {problem.line}, {problem.column}
              </button>
              <Notice tone="ask">{sayOutlineProblem(problem)}</Notice>
            </HStack>
          ))}
          {problems.length > MOST_SHOWN && (
            <Text>and {sayCountOf(problems.length - MOST_SHOWN, 'more problem')}</Text>
          )}
          {unread !== '' && (
            <Notice tone="ask">
              The form was changed since. The lines that could not be read stand at the end.
            </Notice>
          )}
          {problems.length === 0 && unread === '' && (
            <Text color="ink.soft" fontSize="12.5px">
              A label, a colon, what it is, then what else is said of it, by commas.
            </Text>
          )}
        </Box>
      </Flex>
      <Box
        flex="1"
        minW="0"
        overflow="auto"
        tabIndex={0}
        role="region"
        aria-label="The form as it is"
      >
        <LivePicture form={form} />
      </Box>
    </Flex>
  );
}

/** The lines of a text that can't be read, to stand under what the form is now. */
function unreadLines({ text, reading }: TypedOutline): string {
  const lines = text.split('\n');
  const at = new Set(reading.problems.map(({ line }) => line - 1));
  return lines
    .filter((_line, n) => at.has(n))
    .map((line) => `\n${line}`)
    .join('');
}

const outlinedForm = (
  { name }: FormView,
  { definition }: Layout,
  columns: readonly Column<string>[],
): OutlinedForm => ({ name, definition, columns });

/** The form as its users would see it; it comes a moment after the typing. */
function LivePicture({ form }: { form: FormView }) {
  const shown = useDeferredValue(form);
  const state = useFilling(shown, { draft: true });
  if (state.isLoading) return null;
  return (
    <div inert>
      <FormBody form={shown} state={state} readOnly onEnterColumn={nothing} whole />
    </div>
  );
}

const nothing = (): void => undefined;
