import {
  detailProblem,
  LONGEST_NAME,
  settingProblem,
  type ColumnSettings,
  type ControlDetails,
} from '@varn/core';

const write = (allowed: string | null | undefined): string | undefined =>
  allowed ? `Write ${allowed}.` : undefined;

/** What is wrong with a setting of a column, if anything is. */
export const checkSetting = <K extends keyof ColumnSettings>(
  name: K,
  value: ColumnSettings<string>[K],
): string | undefined => write(settingProblem({ [name]: value })?.allowed);

/** What is wrong with a detail of a control, if anything is. */
export const checkDetail = <K extends keyof ControlDetails>(
  name: K,
  value: ControlDetails[K],
): string | undefined => write(detailProblem({ [name]: value })?.allowed);

export function checkHeading(text: string): string | undefined {
  if (text.trim() === '') return 'A column needs a heading.';
  return text.trim().length > LONGEST_NAME
    ? `A heading has ${LONGEST_NAME} characters at most.`
    : undefined;
}
