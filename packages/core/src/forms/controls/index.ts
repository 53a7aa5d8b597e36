import { KIND_IDS, type Column, type KindId } from '../../kinds';
import { boxes, checked, dropdown, pictures, radio, yesNo } from './choices';
import type { Control, ControlId } from './control';
import { line, lines } from './lines';
import { number, scale, steps } from './numbers';
import { file, shown } from './others';
import { date, dateLists, moment, time } from './times';

export { CONTROL_IDS, type Control, type ControlDetails, type ControlId } from './control';
export { MOST_STEPS, USUAL_STEPS } from './numbers';

/** Every control, by its id. A control without a line here does not compile. */
export const CONTROLS: Readonly<Record<ControlId, Control>> = {
  line,
  lines,
  number,
  date,
  dateLists,
  time,
  moment,
  dropdown,
  radio,
  boxes,
  yesNo,
  checked,
  steps,
  scale,
  pictures,
  file,
  shown,
};

const ALL = Object.values(CONTROLS);

/** The controls that fit each kind; the first is the one it gets unless the form says otherwise. */
const FITTING: ReadonlyMap<KindId, readonly Control[]> = new Map(
  KIND_IDS.map((kind) => [kind, ALL.filter(({ kinds }) => kinds.includes(kind))]),
);

/** The controls a column of this kind can be filled with, the usual one first. */
export function controlsOf({ kind }: Pick<Column, 'kind'>): readonly Control[] {
  return FITTING.get(kind) ?? [];
}

/** A field's control: its own where it fits its column, else the usual one. */
export function controlOf(field: { readonly control?: ControlId }, column: Column): Control {
  const fitting = controlsOf(column);
  return fitting.find(({ id }) => id === field.control) ?? fitting[0] ?? shown;
}
