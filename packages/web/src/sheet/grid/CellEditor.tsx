import { Box } from '@chakra-ui/react';
import type { SheetView } from '@varn/contract';
import type { Column, ListItem, LocaleFacts, Offer } from '@varn/core';
import { foldText } from '@varn/core';
import { useEffect, useId, useLayoutEffect, useRef, useState, type KeyboardEvent } from 'react';
import { finderOf } from '../../form/controls/choosing';
import { FormulaPanel } from '../formula/FormulaPanel';
import { isFormula, useFormulaHelp, type FormulaHelp } from '../formula/useFormulaHelp';

/** Where one goes on after a cell is put in. */
export type Onward = 'down' | 'up' | 'right' | 'left' | 'stay';

interface CellEditorProps {
  readonly sheet: Pick<SheetView, 'id' | 'name' | 'columns'>;
  readonly locale: LocaleFacts;
  /** What is said of the cell to those who can't see it. */
  readonly label: string;
  readonly place: {
    readonly left: number;
    readonly top: number;
    readonly width: number;
    readonly height: number;
  };
  /** What stands in it, and where its caret is, as of `placed`. */
  readonly text: string;
  readonly caret: number;
  /** Changes whenever text and caret are put in from elsewhere. */
  readonly placed: number;
  /** Told of each key. @param put whether the text was put in, so that the caret has to follow */
  readonly onType: (text: string, caret: number, put?: boolean) => void;
  /** Whether help stands above the cell rather than under it. */
  readonly above: boolean;
  /** Whether the cell stands outside of the records, where formulas are typed. */
  readonly isFree: boolean;
  /** The column the cell belongs to, for its choices; absent outside of the records. */
  readonly column: Column | undefined;
  /** What the column offers in this record. */
  readonly items: readonly ListItem[];
  readonly onHelp: (help: FormulaHelp | null) => void;
  readonly onDone: (text: string, onward: Onward) => void;
  readonly onCancel: () => void;
}

/** The most choices offered under a cell. */
const MOST_CHOICES = 8;

/** Types into one cell, where it stands. Enter and Tab put it in, Escape leaves it as it was. */
export function CellEditor(props: CellEditorProps) {
  const { sheet, locale, label, place, column, onHelp, onDone } = props;
  // Kept here, so that a key draws this cell and nothing else of the page.
  const { text: given, caret: start, placed } = props;
  const [typed, setTyped] = useState({ text: given, caret: start, placed });
  if (typed.placed !== placed) setTyped({ text: given, caret: start, placed });
  const { text, caret } = typed;
  const onType = (now: string, at: number, put = false): void => {
    setTyped({ text: now, caret: at, placed: typed.placed });
    props.onType(now, at, put);
  };
  const input = useRef<HTMLTextAreaElement>(null);
  const panelId = useId();
  const [pointed, setPointed] = useState(-1);
  const help = useFormulaHelp({ sheet, locale }, text, caret);
  const writesFormula = props.isFree && isFormula(text);
  const choices = offered(column, props.items, text);
  const count = writesFormula ? help.offers.length : choices.length;
  const chosen = writesFormula ? help.chosen : pointed < choices.length ? pointed : -1;

  useLayoutEffect(() => {
    const element = input.current;
    if (!element) return;
    element.focus({ preventScroll: true });
    element.setSelectionRange(caret, caret);
    // Placed when editing begins and when something is put in; else it is where one types.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [placed]);

  const { references, verdict } = help;
  useEffect(() => {
    onHelp(writesFormula ? { ...help, references, verdict } : null);
    // What the grid draws depends on the references only.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [writesFormula, references]);

  const accept = (offer: Offer): void => {
    const put = help.accept(offer);
    onType(put.text, put.caret, true);
  };

  const onKeyDown = (event: KeyboardEvent<HTMLTextAreaElement>): void => {
    event.stopPropagation();
    const offer = writesFormula ? help.offers[chosen] : undefined;
    const choice = writesFormula ? undefined : choices[chosen];
    const steps: Record<string, number> = { ArrowDown: 1, ArrowUp: -1 };
    const step = steps[event.key];
    if (step !== undefined && count > 0) {
      event.preventDefault();
      if (writesFormula) help.point(step);
      else setPointed((chosen + step + count + (chosen < 0 ? 1 : 0)) % count);
    } else if (event.key === 'Escape') {
      event.preventDefault();
      props.onCancel();
    } else if (event.key === 'Enter' && !event.altKey) {
      event.preventDefault();
      if (offer) accept(offer);
      else if (choice !== undefined) onDone(choice, 'down');
      else onDone(text, event.shiftKey ? 'up' : 'down');
    } else if (event.key === 'Tab') {
      event.preventDefault();
      if (offer) accept(offer);
      else onDone(choice ?? text, event.shiftKey ? 'left' : 'right');
    } else if (event.key === 'Enter') {
      event.preventDefault();
      const { selectionStart: at, selectionEnd: to } = event.currentTarget;
      onType(`${text.slice(0, at)}\n${text.slice(to)}`, at + 1, true);
    }
  };

  const rows = text.split('\n').length;
  return (
    // A grid holds rows of cells alone, also while one of them is typed into.
    <Box
      role="row"
      position="absolute"
      zIndex="6"
      style={{ left: place.left, top: place.top, minWidth: Math.max(place.width, 120) }}
      onMouseDown={(event) => event.stopPropagation()}
    >
      <Box role="gridcell">
        <textarea
          ref={input}
          className="grid-editor"
          aria-label={label}
          aria-controls={count > 0 ? panelId : undefined}
          aria-autocomplete="list"
          aria-activedescendant={chosen >= 0 ? `${panelId}-${chosen}` : undefined}
          rows={rows}
          style={{
            height: Math.max(place.height, rows * 18 + 10),
            width: Math.max(place.width, Math.min(520, text.length * 8.2 + 40)),
          }}
          value={text}
          onChange={(event) => onType(event.target.value, event.target.selectionStart)}
          onSelect={(event) => {
            const at = event.currentTarget.selectionStart;
            if (at !== caret) onType(text, at);
          }}
          onKeyDown={onKeyDown}
          onCopy={(event) => event.stopPropagation()}
          onCut={(event) => event.stopPropagation()}
          onPaste={(event) => event.stopPropagation()}
          onBlur={() => onDone(text, 'stay')}
          spellCheck={false}
        />
        {(writesFormula || count > 0) && (
          <Box
            className={props.above ? 'grid-help above' : 'grid-help'}
            w={writesFormula ? '420px' : undefined}
          >
            {writesFormula ? (
              <FormulaPanel id={panelId} help={help} text={text} onAccept={accept} />
            ) : (
              <Box role="listbox" id={panelId} aria-label="Choices" py="1">
                {choices.map((choice, index) => (
                  <Box
                    key={choice}
                    id={`${panelId}-${index}`}
                    role="option"
                    aria-selected={index === chosen}
                    px="3"
                    py="1"
                    cursor="pointer"
                    bg={index === chosen ? 'brass.wash' : undefined}
                    onMouseDown={(event) => {
                      event.preventDefault();
                      onDone(choice, 'down');
                    }}
                  >
                    {choice}
                  </Box>
                ))}
              </Box>
            )}
          </Box>
        )}
      </Box>
    </Box>
  );
}

/** The choices of the cell's column that hold what is typed, those that begin with it first. */
function offered(column: Column | undefined, items: readonly ListItem[], text: string): string[] {
  if (!column) return [];
  if (column.kind === 'oneChoice') {
    const found = finderOf(items).find(text, MOST_CHOICES);
    return found.length === 1 && found[0]?.text === text ? [] : found.map((item) => item.text);
  }
  const all = column.kind === 'yesNo' ? ['Yes', 'No'] : [];
  const typed = foldText(text);
  const begins = all.filter((choice) => foldText(choice).startsWith(typed));
  const holds = all.filter(
    (choice) => !begins.includes(choice) && foldText(choice).includes(typed),
  );
  const fits = [...begins, ...holds];
  return fits.length === 1 && fits[0] === text ? [] : fits.slice(0, MOST_CHOICES);
}
