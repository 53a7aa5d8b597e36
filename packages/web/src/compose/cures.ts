import { columnIdsOf, isEntry, type FormCheck } from '@varn/core';
import type { Cure } from './ChecksPart';
import { change, changeColumn, set, takeOff } from './edits';
import type { Composing } from './useCompose';

interface Curing {
  readonly composing: Composing;
  /** Shows a block on the page, and goes to it. */
  readonly goTo: (blockId: string) => void;
  readonly lift: (columnId: string) => void;
  /** Goes to the empty line. */
  readonly addField: () => void;
}

/** What cures a check with one click. */
export function cureOf(check: FormCheck, { composing, goTo, lift, addField }: Curing): Cure | null {
  const { edit, inSheet, layout } = composing;
  const going = (blockId: string): Cure => ({ label: 'Go to it', run: () => goTo(blockId) });
  switch (check.code) {
    case 'unnamed':
    case 'tooManyFields':
      return null;
    case 'nothingToFill':
      return { label: 'Add a field', run: addField };
    case 'columnGone':
    case 'columnTwice':
      return {
        label: 'Take it off',
        run: () => edit((held) => takeOff(held, check.blockId, inSheet)),
      };
    case 'headingMissing':
    case 'headingTwice':
    case 'computedUnread':
    case 'computedFromItself': {
      const block = layout.definition.blocks.find((each) =>
        columnIdsOf(each).includes(check.columnId),
      );
      return block ? going(block.id) : null;
    }
    case 'startMisfits':
    case 'startUnread':
      return {
        label: 'Start with nothing',
        run: () =>
          edit((held) =>
            change(held, check.blockId, (block) =>
              isEntry(block) ? set(block, 'start', undefined) : block,
            ),
          ),
      };
    case 'settingMisfits':
      return {
        label: 'Leave it out',
        run: () => {
          const column = composing.columns.find(({ id }) => id === check.columnId);
          if (!column) return;
          const { [check.setting]: _misfit, ...settings } = column.settings;
          edit((held) => changeColumn(held, { ...column, settings }));
        },
      };
    case 'dependsOnItself':
      return {
        label: 'Remove the condition',
        run: () =>
          edit((held) =>
            change(held, check.blockId, (block) => set(block, 'shownWhen', undefined)),
          ),
      };
    case 'notWritten':
    case 'keyNotOnForm':
      return { label: 'Add it to the form', run: () => lift(check.columnId) };
    default:
      return going(check.blockId);
  }
}
