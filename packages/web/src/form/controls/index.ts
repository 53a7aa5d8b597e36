import type { ControlId } from '@varn/core';
import type { ComponentType } from 'react';
import { ChoiceControl, SuggestControl } from './ChoiceControl';
import {
  BoxesControl,
  CheckedControl,
  PicturesControl,
  RadioControl,
  ScaleControl,
  StepsControl,
  YesNoControl,
} from './choiceControls';
import type { ControlProps } from './controlProps';
import { DateControl, TimeControl } from './DateControl';
import { DateListsControl } from './DateListsControl';
import { FileControl } from './FileControl';
import { LinesControl } from './LineControl';
import { NumberControl } from './NumberControl';

/** Each control on the screen; `shown` is typed by nobody. */
export const CONTROL_PARTS: Readonly<
  Record<Exclude<ControlId, 'shown'>, ComponentType<ControlProps>>
> = {
  line: SuggestControl,
  lines: LinesControl,
  number: NumberControl,
  date: DateControl,
  dateLists: DateListsControl,
  time: TimeControl,
  moment: DateControl,
  dropdown: ChoiceControl,
  radio: RadioControl,
  boxes: BoxesControl,
  yesNo: YesNoControl,
  checked: CheckedControl,
  steps: StepsControl,
  scale: ScaleControl,
  pictures: PicturesControl,
  file: FileControl,
};
