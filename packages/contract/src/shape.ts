import { isUUID } from 'class-validator';
import { isTextMap, MOST_COLUMNS } from './decorators';
import { LONGEST_CELL } from './limits';

/** Tells whether a part is of its shape: `null`, or where in it and what is wrong. */
export type Shape = (value: unknown) => string | null;

export const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

export const text =
  (most: number, least = 0): Shape =>
  (value) =>
    typeof value === 'string' && value.length <= most && value.length >= least
      ? null
      : ` must be a text of at most ${most} characters`;
export const number =
  (least: number, most: number): Shape =>
  (value) =>
    typeof value === 'number' && value >= least && value <= most
      ? null
      : ` must be a number from ${least} to ${most}`;
export const one =
  (...words: readonly unknown[]): Shape =>
  (value) =>
    words.includes(value) ? null : ` must be one of ${words.map(String).join(', ')}`;
export const yes = one(true);

export const list =
  (of: Shape, most: number): Shape =>
  (value) => {
    if (!Array.isArray(value) || value.length > most) return ` must be a list of at most ${most}`;
    for (const [at, each] of value.entries()) {
      const problem = of(each);
      if (problem !== null) return `[${at}]${problem}`;
    }
    return null;
  };

/**
 * The shape of each part of `T`, its name with `?` where the part may be absent: a part that `T` has
 * and this has not, or the other way round, does not compile.
 */
export type Shapes<T> = {
  readonly [Name in keyof T & string as undefined extends T[Name] ? `${Name}?` : Name]-?: Shape;
};

/** An object of these parts and no others. Those whose name ends in `?` may be absent. */
export function parts(shapes: Readonly<Record<string, Shape>>): Shape {
  const known = new Map(
    Object.entries(shapes).map(([name, shape]) => [name.replace('?', ''), shape] as const),
  );
  const needed = Object.keys(shapes).filter((name) => !name.endsWith('?'));
  return (value) => {
    if (!isObject(value)) return ' must be an object';
    const missing = needed.find((name) => value[name] === undefined);
    if (missing !== undefined) return `.${missing} is missing`;
    for (const [name, each] of Object.entries(value)) {
      const shape = known.get(name);
      if (!shape) return ` has no part ‘${name.slice(0, 40)}’`;
      const problem = shape(each);
      if (problem !== null) return `.${name}${problem}`;
    }
    return null;
  };
}

export const flag: Shape = (value) =>
  typeof value === 'boolean' ? null : ' must be true or false';

export const whole =
  (least = Number.MIN_SAFE_INTEGER, most = Number.MAX_SAFE_INTEGER): Shape =>
  (value) =>
    Number.isInteger(value) && Number(value) >= least && Number(value) <= most
      ? null
      : ` must be a whole number from ${least} to ${most}`;

export const uuid: Shape = (value) => (isUUID(value) ? null : ' must be a UUID');

export const string: Shape = (value) => (typeof value === 'string' ? null : ' must be a text');

/** A map of typed texts by id. */
export const textMap: Shape = (value) =>
  isTextMap(value)
    ? null
    : ` must be an object of at most ${MOST_COLUMNS} texts by id, each of at most ${LONGEST_CELL} characters`;

/** A map of parts of one shape. */
export const mapOf =
  (of: Shape): Shape =>
  (value) => {
    if (!isObject(value)) return ' must be an object';
    for (const [name, each] of Object.entries(value)) {
      const problem = of(each);
      if (problem !== null) return `.${name.slice(0, 40)}${problem}`;
    }
    return null;
  };

const shapes = new WeakMap<object, Shape>();

/**
 * Gives a class of the contract the shape by which requests are checked in one plain pass, where
 * walking its decorators would take too long: a paste of many cells, a submit. Its decorators say
 * the same, and describe it in the OpenAPI document.
 */
export const Shaped =
  (shape: Shape): ClassDecorator =>
  (target) => {
    shapes.set(target, shape);
  };

/** The shape a class was given, if it was. */
export const shapeOf = (type: object): Shape | undefined => shapes.get(type);
