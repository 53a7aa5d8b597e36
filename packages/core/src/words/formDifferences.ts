import type { BlockDifference, BlockPart, FormPart } from '../forms';

const PARTS: Readonly<Record<BlockPart, string>> = {
  label: 'label',
  hint: 'hint',
  control: 'control',
  details: 'details of the control',
  required: 'whether it is required',
  requiredWhen: 'when it is required',
  readOnly: 'whether it is read only',
  start: 'starting value',
  limits: 'limits',
  rules: 'rules',
  says: 'message',
  different: 'all different',
  width: 'width',
  beside: 'whether it stands beside another',
  shownWhen: 'when it is shown',
  remark: 'comment',
  columnId: 'column',
  as: 'kind of group',
  members: 'columns of the group',
  text: 'text',
  fileId: 'picture',
  alt: 'words for the picture',
  size: 'size',
  place: 'place of the picture',
  tone: 'tone',
  formula: 'formula',
  title: 'title',
};

const FORM_PARTS: Readonly<Record<FormPart, string>> = {
  look: 'Its look differs.',
  entering: 'How it is filled in differs.',
  after: 'What happens after a submit differs.',
  remark: 'Its comment at the end differs.',
};

/** One difference between my layout and someone else's. @param name what the block is called */
export function sayBlockDifference(difference: BlockDifference, name: string): string {
  switch (difference.is) {
    case 'onlyMine':
      return `‘${name}’ is only in yours.`;
    case 'onlyTheirs':
      return `‘${name}’ is only in theirs.`;
    case 'moved':
      return `‘${name}’ stands in another place.`;
    case 'changed':
      return `‘${name}’ differs: ${difference.parts.map((part) => PARTS[part]).join(', ')}.`;
  }
}

export const sayFormDifference = (part: FormPart): string => FORM_PARTS[part];
