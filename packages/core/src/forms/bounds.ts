import { LONGEST_NAME } from '../kinds';
import type { ControlDetails } from './controls';

/** Ids are keys of objects, so they hold nothing that means something there. */
export const isPlainId = (text: string): boolean => /^[\w.-]{1,100}$/.test(text) && !(text in {});

/** Between what the numbers of a control's details are. */
export const DETAIL_BOUNDS = {
  lines: [1, 50],
  step: [0, 1e12],
  from: [-1e9, 1e9],
  to: [-1e9, 1e9],
  most: [0, 1000],
} as const satisfies Partial<Record<keyof ControlDetails, readonly [number, number]>>;

/** Between what a field's parts of the row are. */
export const WIDTH_BOUNDS = [1, 12] as const;

const isWithin = (value: unknown, [least, most]: readonly [number, number]): boolean =>
  typeof value === 'number' && value >= least && value <= most;

/** The first of a control's details that is out of bounds, and what it may be. */
export function detailProblem(
  details: ControlDetails,
): { readonly name: keyof ControlDetails; readonly allowed: string } | null {
  if (details.ends?.some((each) => each.length > LONGEST_NAME)) {
    return { name: 'ends', allowed: `two texts of at most ${LONGEST_NAME} characters` };
  }
  for (const name of Object.keys(DETAIL_BOUNDS) as (keyof typeof DETAIL_BOUNDS)[]) {
    const bounds = DETAIL_BOUNDS[name];
    if (details[name] !== undefined && !isWithin(details[name], bounds)) {
      return { name, allowed: saysBounds(bounds) };
    }
  }
  return null;
}

export const widthProblem = (width: number | undefined): string | null =>
  width === undefined || (isWithin(width, WIDTH_BOUNDS) && Number.isInteger(width))
    ? null
    : saysBounds(WIDTH_BOUNDS);

const saysBounds = ([least, most]: readonly [number, number]): string =>
  `a number from ${least} to ${most}`;
