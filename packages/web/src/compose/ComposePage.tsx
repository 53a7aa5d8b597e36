import { Box, Button, HStack, Link as ChakraLink, Stack } from '@chakra-ui/react';
import type { DraftView, FormView, SecretWordsView } from '@varn/contract';
import { paths } from '@varn/contract/paths';
import {
  checkForm,
  labelOfBlock,
  localeFacts,
  sayCountOf,
  type Column,
  type CheckGround,
  type FormCheck,
  type ColumnsById,
} from '@varn/core';
import { useCallback, useDeferredValue, useEffect, useMemo, useState } from 'react';
import { Link, useParams } from 'react-router';
import useSWR, { useSWRConfig } from 'swr';
import { addresses } from '../addresses';
import { useTriedLists } from '../api/lists';
import { get } from '../api/client';
import { useDraftView, useWorkbook } from '../api/resources';
import { Notice } from '../ui/Notice';
import { useSteady } from '../form/useSteady';
import { Arriving } from '../frame/Arriving';
import { Shell } from '../frame/Shell';
import { newId } from '../api/newId';
import { BlockMargin } from './BlockMargin';
import { ChecksPart, type Cure } from './ChecksPart';
import { ComposeBar, type View } from './ComposeBar';
import { ComposedPage } from './ComposedPage';
import { ContestedDraft } from './ContestedDraft';
import { cureOf } from './cures';
import { Dragging, STRIP } from './Dragging';
import { fieldFor, move, putIn, type PagePlace } from './edits';
import { focusAddLine, focusFrameOf, showFrameOf } from './focus';
import { FormMargin } from './FormMargin';
import { HeadingStrip } from './HeadingStrip';
import { OutlineEditor } from './OutlineEditor';
import type { TypedOutline } from './typedOutline';
import { Preview } from './Preview';
import { useCompose, type Composing } from './useCompose';
import { useDraftActs, type DraftReading } from './useDraftActs';

/** Where a form is laid out. */
export function ComposePage() {
  const { workbookId = '', formId = '' } = useParams();
  const { data: workbook } = useWorkbook(workbookId);
  const { data: draft, error, mutate } = useDraftView(formId);
  const { mutate: mutateAll } = useSWRConfig();
  const [taken, setTaken] = useState(0);
  // What was read is out of date as soon as it is laid out on: the next visit reads it anew.
  useEffect(
    () => () => void mutateAll(paths.draft(formId), undefined, { revalidate: false }),
    [mutateAll, formId],
  );
  // What was laid out stays while the draft can't be read anew.
  if (draft) {
    return (
      <Composer
        key={`${formId}/${taken}`}
        draft={draft}
        workbookName={workbook?.name ?? 'Workbook'}
        readAnew={() => mutate()}
        startAnew={async () => {
          await mutate();
          setTaken((n) => n + 1);
        }}
      />
    );
  }
  return <Arriving trail={[{ label: 'Compose' }]} error={error} />;
}

interface ComposerProps extends DraftReading {
  readonly draft: DraftView;
  readonly workbookName: string;
}

function Composer({ draft, workbookName, readAnew, startAnew }: ComposerProps) {
  const { workbookId = '', formId = '' } = useParams();
  const composing = useCompose(draft, startAnew);
  const acts = useDraftActs(draft, composing, { readAnew, startAnew });
  const [view, setView] = useState<View>('page');
  const [chosen, setChosen] = useState<string | null>(null);
  const [isFormChosen, setFormChosen] = useState(false);
  const [addAfter, setAddAfter] = useState<string | null>(null);
  const [typed, setTyped] = useState<TypedOutline | null>(null);
  const [showsChecks, setShowsChecks] = useState(false);
  const { layout, columns, edit } = composing;
  const form = useMemo<FormView>(
    () => ({
      ...draft.form,
      definition: layout.definition,
      sheet: { ...draft.form.sheet, columns: [...columns] },
      last: lastIn(draft.form, columns),
    }),
    [draft.form, layout, columns],
  );
  const locale = useMemo(() => localeFacts(form.locale), [form.locale]);
  const byId = useMemo(() => new Map(columns.map((column) => [column.id, column])), [columns]);
  // What lies around the page comes a moment after what is typed; what is decided does not.
  const drawn = useDeferredValue(composing);
  const lists = useTriedLists(form.sheet.id, drawn.columns);
  const unreadLists = useMemo(
    () => new Map([...lists].flatMap(([id, { problem }]) => (problem ? [[id, problem]] : []))),
    [lists],
  );
  const wordsPath = paths.secretWords(workbookId);
  const { data: words } = useSWR(wordsPath, () => get<SecretWordsView>(wordsPath));
  const known = useMemo(
    () => ({ unreadLists, keptWords: words && new Set(words.names) }),
    [unreadLists, words],
  );
  const checks = useMemo(() => checksOf(draft, drawn, known), [draft, drawn, known]);
  const block = layout.definition.blocks.find(({ id }) => id === chosen);

  const choose = useCallback((blockId: string | null): void => {
    setChosen(blockId);
    setFormChosen(false);
  }, []);
  const goTo = useSteady((blockId: string) => {
    setView('page');
    choose(blockId);
    focusFrameOf(blockId);
  });
  const addField = (): void => {
    setView('page');
    focusAddLine('end');
  };
  const lift = (columnId: string, spot: PagePlace = { blockId: null, side: 'after' }): void => {
    const id = newId();
    edit((held) => putIn(held, [fieldFor({ id: columnId }, id)], spot));
    choose(id);
    showFrameOf(id);
  };
  const onLift = useSteady((columnId: string) => lift(columnId));
  const onPutToUse = useSteady(() => {
    if (stopsIn(checksOf(draft, composing, known)) > 0) setShowsChecks(true);
    else acts.putToUse();
  });
  const onForm = useSteady(() => {
    setChosen(null);
    setFormChosen(!isFormChosen);
  });

  const call = (id: string): string => {
    const named = layout.definition.blocks.find((each) => each.id === id);
    return named ? labelOfBlock(named, byId) : (byId.get(id)?.heading ?? '');
  };

  return (
    <Shell
      trail={[
        { label: workbookName, to: addresses.contents(workbookId) },
        { label: form.sheet.name, to: addresses.sheet(workbookId, form.sheet.id) },
        { label: form.name, to: addresses.desk(workbookId, formId) },
        { label: 'Compose' },
      ]}
      bar={
        <ComposeBar
          draft={draft}
          composing={composing}
          view={view}
          onView={setView}
          onPutToUse={onPutToUse}
          onForm={onForm}
        />
      }
      margin={
        view === 'page' && block ? (
          <BlockMargin
            key={block.id}
            block={block}
            composing={composing}
            locale={locale}
            workbookId={workbookId}
            sheet={draft.form.sheet}
            onConverted={() => void readAnew()}
            writtenBy={draft.writtenBy}
            onClose={() => {
              setChosen(null);
              focusFrameOf(block.id);
            }}
            onTakenOff={() => setChosen(null)}
          />
        ) : isFormChosen ? (
          <FormMargin
            draft={draft}
            composing={composing}
            name={form.name}
            onRename={acts.rename}
            onClose={() => setFormChosen(false)}
            onBringBack={acts.bringBack}
            onDrop={acts.dropDraft}
            onRemove={acts.remove}
          />
        ) : undefined
      }
      foot={
        view === 'preview' ? undefined : (
          <ComposeFoot
            {...{ composing, drawn, acts, checks, call, chosen, showsChecks }}
            columns={byId}
            onShowChecks={setShowsChecks}
            cureOf={(check) => cureOf(check, { composing, goTo, lift, addField })}
            onChoose={goTo}
            onLift={onLift}
          />
        )
      }
      around={
        view === 'page'
          ? (children) => (
              <Dragging
                onDrop={(dragged, spot) => {
                  if (dragged.startsWith(STRIP)) lift(dragged.slice(STRIP.length), spot);
                  else edit((held) => move(held, dragged, spot));
                }}
              >
                {children}
              </Dragging>
            )
          : undefined
      }
    >
      <Box hideFrom="md" p="4" hidden={view !== 'page'}>
        <Stack gap="3" align="start">
          <Notice tone="note">
            Laying out on the page needs a window of at least 768 pixels. Here the outline does the
            same.
          </Notice>
          <Button size="sm" onClick={() => setView('outline')}>
            Show the outline
          </Button>
          <ChakraLink asChild textDecoration="underline">
            <Link to={addresses.desk(workbookId, formId)}>Fill in the form</Link>
          </ChakraLink>
        </Stack>
      </Box>
      {view === 'page' && (
        <ComposedPage
          form={form}
          composing={composing}
          chosen={chosen}
          addAfter={addAfter}
          onChoose={choose}
          onAddAfter={setAddAfter}
        />
      )}
      {view === 'outline' && (
        <OutlineEditor
          composing={composing}
          form={form}
          typed={typed}
          onTyped={setTyped}
          onName={acts.rename}
        />
      )}
      {view === 'preview' && (
        <Preview
          draft={draft}
          form={form}
          onBeforeTrial={composing.keepNow}
          onTried={() => void readAnew()}
          onRemoveTrials={acts.removeTrials}
        />
      )}
    </Shell>
  );
}

interface ComposeFootProps {
  readonly composing: Composing;
  /** The same a moment later, as it is drawn around the page. */
  readonly drawn: Composing;
  readonly acts: ReturnType<typeof useDraftActs>;
  readonly checks: readonly FormCheck[];
  readonly columns: ColumnsById;
  readonly call: (id: string) => string;
  readonly cureOf: (check: FormCheck) => Cure | null;
  readonly chosen: string | null;
  readonly showsChecks: boolean;
  readonly onShowChecks: (shows: boolean) => void;
  readonly onChoose: (blockId: string) => void;
  readonly onLift: (columnId: string) => void;
}

/** The foot: someone else's changes, the checks before use, and the heading strip. */
function ComposeFoot({ composing, acts, checks, showsChecks, ...props }: ComposeFootProps) {
  const stops = stopsIn(checks);
  return (
    <Box as="footer" flex="none" borderTopWidth="1px">
      {composing.keeping.is === 'contested' && (
        <ContestedDraft
          layout={composing.layout}
          columns={props.columns}
          readTheirs={composing.readTheirs}
          onMine={composing.keepMine}
          onTheirs={composing.takeTheirs}
          onCopy={acts.keepAsCopy}
          onFailure={acts.fail}
        />
      )}
      <HStack px="5" pt="2" gap="4" wrap="wrap">
        <Button
          size="2xs"
          variant="ghost"
          color={stops > 0 ? 'madder' : 'ink.soft'}
          aria-expanded={showsChecks}
          onClick={() => props.onShowChecks(!showsChecks)}
        >
          {checks.length === 0
            ? 'Ready for use'
            : stops > 0
              ? `${sayCountOf(stops, 'problem')} to solve first`
              : `${sayCountOf(checks.length, 'thing')} to check`}
        </Button>
        {acts.failure !== '' && <Notice tone="refuse">{acts.failure}</Notice>}
      </HStack>
      {showsChecks && (
        <Box px="5" pt="1">
          <ChecksPart checks={checks} call={props.call} cureOf={props.cureOf} />
        </Box>
      )}
      <HeadingStrip
        composing={props.drawn}
        chosen={props.chosen}
        onChoose={props.onChoose}
        onLift={props.onLift}
      />
    </Box>
  );
}

/** The last records of the sheet, with their cells as the columns stand while it is laid out. */
function lastIn({ sheet, last }: FormView, columns: readonly Column<string>[]): FormView['last'] {
  const places = new Map(sheet.columns.map(({ id }, place) => [id, place]));
  const records = last.records.map((record) => ({
    ...record,
    cells: columns.map(({ id }) => record.cells[places.get(id) ?? -1] ?? null),
  }));
  return { ...last, records };
}

/** What should be seen to before the form is put to use. */
function checksOf(
  { form, writtenBy }: DraftView,
  { layout, columns, ground }: Composing,
  known: Pick<CheckGround, 'unreadLists' | 'keptWords'>,
): readonly FormCheck[] {
  return checkForm(layout.definition, {
    name: form.name,
    columns,
    writtenElsewhere: new Set(Object.keys(writtenBy)),
    planned: layout.columns,
    ...known,
    ...ground,
  });
}

const stopsIn = (checks: readonly FormCheck[]): number =>
  checks.filter(({ strictness }) => strictness === 'refuse').length;
