import { Box, Button, HStack } from '@chakra-ui/react';
import type { FormView } from '@varn/contract';
import {
  expected,
  fieldSpan,
  isEntry,
  isTyped,
  PAGE_PARTS,
  pagesOf,
  rowsOf,
  ruleHint,
  sayProblem,
  showValue,
  textIn,
  type Block,
  type CellValue,
  type FormPage,
  type Input,
} from '@varn/core';
import { useMemo, type CSSProperties, type ReactNode } from 'react';
import { FormField, type FieldActions, type InputState } from './FormField';
import { FormGroup } from './FormGroup';
import { LocaleContext } from './localeContext';
import { offeredFor } from './offered';
import { NowContext } from './nowContext';
import { PlainPart } from './PlainPart';
import type { FormFilling } from './useFilling';

const GAPS = { dense: '6px 12px', usual: '10px 16px', roomy: '18px 20px' } as const;
const WIDTHS = { narrow: '600px', usual: '1040px', wide: 'none' } as const;

/** Why an answer was refused where it was to be written, and the answer: another may do. */
export interface Refusal {
  readonly message: string;
  readonly text: string;
}

interface FormBodyProps {
  readonly form: FormView;
  readonly state: FormFilling;
  readonly readOnly: boolean;
  /** Told when a field of a column is entered. */
  readonly onEnterColumn: (columnId: string) => void;
  /** What was refused when it was submitted, by input id. */
  readonly refusals?: ReadonlyMap<string, Refusal>;
  /** Of a stored record: what Varn filled in, by column id. */
  readonly filledIn?: Readonly<Record<string, CellValue>> | undefined;
  /** What is stored where something else stands now, by input id. */
  readonly stored?: ReadonlyMap<string, string>;
  /** What stands around each block, where it is being laid out. */
  readonly wrap?: (block: Block, part: ReactNode, span: number) => ReactNode;
  /** Shows every page and every block, whatever its condition. */
  readonly whole?: boolean;
}

/** The pages of a form with the fields filled in so far. */
export function FormBody(props: FormBodyProps) {
  const { form, state, whole = false } = props;
  const { definition, filling } = state;
  const { accent, density = 'usual', width = 'usual', labels } = definition.look ?? {};
  const pages = useMemo(() => pagesOf(definition), [definition]);
  const shown = whole ? pages : pages.filter(({ start }) => !start || filling.shown.has(start.id));
  const at = Math.min(state.page, shown.length - 1);
  const style = {
    '--form-gap': GAPS[density],
    ...(accent && { '--form-accent': `var(--chakra-colors-${accent})` }),
  } as CSSProperties;
  return (
    <LocaleContext value={form.locale}>
      <NowContext value={state.now}>
        <Box
          className={`form-page${labels === 'beside' ? ' labels-beside' : ''}`}
          style={style}
          maxW={WIDTHS[width]}
          mx="auto"
          bg="leaf"
          borderWidth="1px"
          borderTopWidth={accent ? '4px' : '1px'}
          borderTopColor={accent ?? 'rule'}
          borderRadius="8px"
          p={{ base: '4', md: density === 'dense' ? '4' : '5' }}
          fontSize={density === 'roomy' ? '16px' : undefined}
        >
          {shown.length > 1 && !whole && <Steps pages={shown} at={at} onGo={state.goToPage} />}
          {shown.map(
            (page, n) =>
              (whole || n === at) && (
                <Page key={page.start?.id ?? 'first'} {...props} page={page} whole={whole} />
              ),
          )}
          {shown.length > 1 && !whole && (
            <HStack mt="4" justify="space-between">
              <Button
                size="sm"
                variant="outline"
                visibility={at === 0 ? 'hidden' : undefined}
                onClick={() => state.goToPage(at - 1)}
              >
                Back
              </Button>
              {at < shown.length - 1 && (
                <Button size="sm" data-next-page onClick={() => state.nextPage(at, shown)}>
                  Next
                </Button>
              )}
            </HStack>
          )}
        </Box>
      </NowContext>
    </LocaleContext>
  );
}

function Steps({
  pages,
  at,
  onGo,
}: {
  pages: readonly FormPage<string>[];
  at: number;
  onGo: (page: number) => void;
}) {
  return (
    <HStack as="ol" gap="1" mb="4" listStyleType="none" wrap="wrap" aria-label="Pages">
      {pages.map(({ start }, n) => (
        <Box as="li" key={start?.id ?? 'first'}>
          <Button
            size="xs"
            variant="ghost"
            color={n === at ? 'ink' : 'ink.soft'}
            fontWeight={n === at ? 600 : 400}
            borderWidth="0"
            borderRadius="0"
            boxShadow={`inset 0 -3px 0 var(--chakra-colors-${n === at ? 'brass' : n < at ? 'pine' : 'rule'})`}
            aria-current={n === at ? 'step' : undefined}
            onClick={() => onGo(n)}
          >
            {start?.title ? `${n + 1}. ${start.title}` : `Page ${n + 1}`}
          </Button>
        </Box>
      ))}
    </HStack>
  );
}

function Page({
  form,
  state,
  readOnly,
  onEnterColumn,
  refusals,
  stored,
  filledIn,
  wrap,
  page,
  whole,
}: FormBodyProps & { page: FormPage<string>; whole: boolean }) {
  const { filling, prepared, answers, untouched, revealed, kept, type, leave, mean } = state;
  const { columns } = prepared;
  // The same objects at every key, so that fields that did not change are not drawn again.
  const inputsByBlock = useMemo(() => groupedByBlock(prepared.inputs), [prepared.inputs]);
  const verdicts = useMemo(
    () => new Map(filling.verdicts.map((verdict) => [verdict.fieldId, verdict])),
    [filling],
  );
  const said = new Map(filling.messages.map(({ blockId, text }) => [blockId, text]));
  const blocks = page.blocks.filter(({ id }) => whole || filling.shown.has(id));
  const rows = rowsOf(blocks, (field) => {
    const column = columns.get(field.columnId);
    return column ? fieldSpan(field, column, form.lengths[column.id] ?? 0) : PAGE_PARTS;
  });
  const { context, lists } = state;
  const { locale } = context;
  const all = filling.whole;

  // What is typed is there at once; what follows from it may be a key behind.
  const standing = (input: Input, atStart: boolean, awaited: boolean): string => {
    if (awaited) return '';
    return atStart ? textIn(input, { answers }, filling) : (answers[input.id] ?? '');
  };

  const stateOf = (input: Input): InputState => {
    const { id, column } = input;
    const verdict = verdicts.get(id);
    const told = verdict !== undefined && revealed.has(id);
    const computed = filling.computed[column.id] ?? null;
    const atStart = untouched.has(id) || input.block.readOnly === true;
    const awaited = filling.awaited.has(column.id) && (atStart || !isTyped(column));
    const text = standing(input, atStart, awaited);
    const refusal = refusals?.get(id);
    const refused = refusal?.text === text ? refusal.message : '';
    const note = revealed.has(id) ? filling.notes.get(id) : undefined;
    return {
      text,
      message: told ? sayProblem(verdict.problem) : refused,
      asked: told && verdict.strictness === 'ask',
      note: note ? sayProblem(note) : '',
      takes: ruleHint(input.ruled, { locale }),
      required: filling.required.has(id),
      kept: kept.has(id),
      shown:
        (filledIn ? showValue(filledIn[column.id] ?? null, column, locale) || null : null) ??
        expected(column, form.nextNumbers) ??
        (computed === null ? 'Computed' : showValue(computed, column, locale)),
      untouched: atStart,
      awaited,
      suggested: filling.suggested[id] ?? '',
      stored: stored?.get(id) ?? null,
      items: offeredFor(column, all, columns, lists, context),
      listProblem: lists.get(column.id)?.problem,
    };
  };
  const actions: FieldActions = {
    onType: type,
    onLeave: leave,
    onMean: mean,
    onEnter: onEnterColumn,
  };
  const { workbookId } = form.sheet;

  const partOf = (block: Block): ReactNode => {
    const inputs = inputsByBlock.get(block.id) ?? NO_INPUTS;
    if (block.is === 'field') {
      const [input] = inputs;
      return input ? (
        <FormField
          input={input}
          {...stateOf(input)}
          {...actions}
          readOnly={readOnly}
          suggestions={form.suggestions[input.column.id] ?? NONE}
          workbookId={workbookId}
        />
      ) : null;
    }
    if (block.is === 'group') {
      const rest = { ...actions, block, inputs, stateOf, readOnly, workbookId };
      return <FormGroup {...rest} />;
    }
    return <PlainPart block={block} workbookId={workbookId} said={said.get(block.id)} />;
  };

  return (
    <>
      {wrap && page.start && wrap(page.start, null, PAGE_PARTS)}
      <div className="form-rows">
        {rows.map((row) => (
          <div key={row[0]?.block.id} className="form-row">
            {row.map(({ block, span }) => (
              <div
                key={block.id}
                className={isEntry(block) ? 'form-cell' : 'form-cell plain'}
                style={{ '--span': span } as CSSProperties}
              >
                {wrap ? wrap(block, partOf(block), span) : partOf(block)}
              </div>
            ))}
          </div>
        ))}
      </div>
    </>
  );
}

function groupedByBlock(inputs: readonly Input[]): ReadonlyMap<string, readonly Input[]> {
  const groups = new Map<string, Input[]>();
  for (const input of inputs) {
    const group = groups.get(input.block.id) ?? [];
    groups.set(input.block.id, group);
    group.push(input);
  }
  return groups;
}

const NONE: readonly string[] = [];
const NO_INPUTS: readonly Input[] = [];
