import {
  IsInt,
  IsNotEmpty,
  IsString,
  Max,
  MaxLength,
  Min,
  ValidateBy,
  type ValidationOptions,
} from 'class-validator';
import { LONGEST_NAME, settingProblem } from '@varn/core';
import { applyAll } from './applyAll';
import { LONGEST_CELL } from './limits';

export const MOST_COLUMNS = 1000;

/** A map of at most 1,000 typed texts by id: `{ "id": "text" }`. */
export function IsTextMap(options?: ValidationOptions): PropertyDecorator {
  return ValidateBy(
    {
      name: 'isTextMap',
      validator: {
        validate: (value: unknown) => isTextMap(value),
        defaultMessage: () =>
          `$property must be an object of at most ${MOST_COLUMNS} texts by id, each of at most ${LONGEST_CELL} characters`,
      },
    },
    options,
  );
}

/** A map of at most 1,000 values by id, each as a check wants it. */
export function IsMapOf(says: string, isRight: (value: unknown) => boolean): PropertyDecorator {
  return ValidateBy({
    name: 'isMapOf',
    validator: {
      validate: (map: unknown) =>
        typeof map === 'object' &&
        map !== null &&
        !Array.isArray(map) &&
        Object.keys(map).length <= MOST_COLUMNS &&
        Object.values(map).every(isRight),
      defaultMessage: () => `$property must be an object of at most ${MOST_COLUMNS} ${says} by id`,
    },
  });
}

/** Whether a value is a map of typed texts by id. */
export function isTextMap(value: unknown): boolean {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return false;
  const texts: unknown[] = Object.values(value);
  return (
    texts.length <= MOST_COLUMNS &&
    texts.every((text) => typeof text === 'string' && text.length <= LONGEST_CELL)
  );
}

/** A name people give: not blank, of at most 200 characters, any Unicode. */
export function IsName(what: string): PropertyDecorator {
  return applyAll(
    IsString({ message: `${what} is missing` }),
    IsNotEmpty({ message: `${what} is missing` }),
    MaxLength(LONGEST_NAME, { message: `${what} is over ${LONGEST_NAME} characters long` }),
    ValidateBy({
      name: 'isNotBlank',
      validator: {
        validate: (value: unknown) => typeof value === 'string' && value.trim() !== '',
        defaultMessage: () => `${what} is missing`,
      },
    }),
  );
}

/** Settings of a column: of the known names, each of its type and within its limits. */
export function IsSettings(): PropertyDecorator {
  return ValidateBy({
    name: 'isSettings',
    validator: {
      validate: (value: unknown) => settingsProblem(value) === null,
      defaultMessage: (args) => `$property ${settingsProblem(args?.value) ?? 'is wrong'}`,
    },
  });
}

/** What feeds a column's choices. */
export function IsListSettings(): PropertyDecorator {
  return ValidateBy({
    name: 'isListSettings',
    validator: {
      validate: (value: unknown) => settingsProblem({ list: value }) === null,
      defaultMessage: () => '$property must be a list with a source',
    },
  });
}

/** What may be stored in a column. */
export function IsRules(): PropertyDecorator {
  return ValidateBy({
    name: 'isRules',
    validator: {
      validate: (value: unknown) => settingsProblem({ rules: value }) === null,
      defaultMessage: () => '$property must be a list of at most 50 rules',
    },
  });
}

/** Why a value is no settings of a column, or `null`. */
export function settingsProblem(value: unknown): string | null {
  if (typeof value !== 'object' || value === null || Array.isArray(value))
    return 'must be an object';
  const problem = settingProblem(value);
  if (problem) {
    const { name, allowed } = problem;
    return allowed === null
      ? `has no ${name.slice(0, 40)}`
      : `has a ${name} that is not ${allowed}`;
  }
  return null;
}

/** A whole number that counts from `least`. */
export function IsCount(least = 0, most = Number.MAX_SAFE_INTEGER): PropertyDecorator {
  return applyAll(IsInt(), Min(least), Max(most));
}

/** A BCP 47 tag that the platform takes; others would fail wherever dates and numbers are read. */
export function IsLocaleTag(): PropertyDecorator {
  return ValidateBy({
    name: 'isLocaleTag',
    validator: {
      validate: (value: unknown) => typeof value === 'string' && value !== '' && isLocaleTag(value),
      defaultMessage: () => '$property must be a BCP 47 language tag such as en-GB',
    },
  });
}

function isLocaleTag(tag: string): boolean {
  try {
    return Intl.getCanonicalLocales(tag).length === 1;
  } catch {
    return false;
  }
}
