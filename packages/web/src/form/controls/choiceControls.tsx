import { Input } from '@chakra-ui/react';
import { paths } from '@varn/contract/paths';
import {
  joinChoices,
  ownText,
  splitChoices,
  USUAL_STEPS,
  type Column,
  type ListItem,
} from '@varn/core';
import { useState, type ReactNode } from 'react';
import { OptionSet, type Option } from './OptionSet';
import type { ControlProps } from './controlProps';

/** Stands for an answer of one's own among the choices. */
const OWN = '\u0000own';

const common = (props: ControlProps) => {
  const { fieldId, readOnly, required, invalid, labelId, describedBy } = props;
  return { fieldId, readOnly, required, invalid, labelId, describedBy };
};

/** The column with what it offers now as its choices, by which answers of one's own are told. */
const withOffered = (column: Column, items: readonly ListItem[]): Column => ({
  ...column,
  settings: { ...column.settings, choices: items.map(({ text }) => text) },
});

/** An item's label, with its second line under it where it has one. */
const faceOf = ({ label, second }: ListItem): ReactNode =>
  second === '' ? undefined : (
    <span className="option-lines">
      <bdi>{label}</bdi>
      <small dir="auto">{second}</small>
    </span>
  );

export function YesNoControl(props: ControlProps) {
  return (
    <OptionSet
      {...common(props)}
      arranged="joined"
      value={props.text}
      options={[
        { value: 'yes', label: 'Yes' },
        { value: 'no', label: 'No' },
      ]}
      onPick={props.onText}
    />
  );
}

/** A box that says yes, or is blank. */
export function CheckedControl(props: ControlProps) {
  const { fieldId, text, readOnly, labelId, describedBy, invalid, required, onText } = props;
  return (
    <label className="option">
      <input
        type="checkbox"
        data-field={fieldId}
        aria-labelledby={labelId}
        aria-describedby={describedBy}
        aria-invalid={invalid || undefined}
        aria-required={required || undefined}
        checked={text === 'yes'}
        disabled={readOnly}
        onChange={(event) => onText(event.target.checked ? 'yes' : '')}
      />
      <span>I confirm this</span>
    </label>
  );
}

/** One of a few, in a row or a stack; with an answer of one's own where the column takes it. */
export function RadioControl(props: ControlProps) {
  const { column, details, text, items, onText } = props;
  const own = ownText(text, withOffered(column, items));
  const [ownOpen, setOwnOpen] = useState(false);
  const isOwn = ownOpen || (text !== '' && own !== null);
  const options: Option[] = items.map((item) => {
    return { value: item.text, label: item.label, face: faceOf(item) };
  });
  if (column.settings.own !== undefined) options.push({ value: OWN, label: 'Another' });
  const pick = (value: string): void => {
    setOwnOpen(value === OWN);
    onText(value === OWN ? '' : value);
  };
  return (
    <>
      <OptionSet
        {...common(props)}
        arranged={details.inRow ? 'row' : 'stack'}
        value={isOwn ? OWN : text}
        options={options}
        onPick={pick}
      >
        {isOwn && <OwnLine props={props} text={own ?? ''} onOwn={onText} />}
      </OptionSet>
      <ChosenPicture {...props} />
    </>
  );
}

function OwnLine({
  props,
  text,
  onOwn,
}: {
  props: ControlProps;
  text: string;
  onOwn: (text: string) => void;
}) {
  return (
    <Input
      size="sm"
      w="auto"
      bg="leaf"
      borderColor="edge"
      data-field={props.fieldId}
      aria-label="An answer of your own"
      readOnly={props.readOnly}
      value={text}
      onChange={(event) => onOwn(event.target.value)}
    />
  );
}

/** Any number of choices, ticked; stored in one cell. */
export function BoxesControl(props: ControlProps) {
  const { fieldId, details, text, items, readOnly, labelId, describedBy, onText } = props;
  const column = withOffered(props.column, items);
  const { separator, own, choices = [] } = column.settings;
  const chosen = splitChoices(text, separator);
  const others = chosen.filter((each) => !choices.includes(each));
  const put = (next: readonly string[]): void => {
    const inOrder = choices.filter((each) => next.includes(each));
    const rest = next.filter((each) => !choices.includes(each) && each !== '');
    onText(joinChoices([...inOrder, ...rest], separator));
  };
  return (
    <div
      role="group"
      aria-labelledby={labelId}
      aria-describedby={describedBy}
      className={`options ${details.inRow ? 'row' : 'stack'}`}
    >
      {items.map(({ text: choice, label }) => (
        <Box
          key={choice}
          fieldId={fieldId}
          label={label}
          checked={chosen.includes(choice)}
          readOnly={readOnly}
          onTick={(ticked) =>
            put(ticked ? [...chosen, choice] : chosen.filter((each) => each !== choice))
          }
        />
      ))}
      {own !== undefined && (
        <OwnLine
          props={props}
          text={others.map((each) => ownText(each, column) ?? each).join(', ')}
          onOwn={(typed) => put([...chosen.filter((each) => choices.includes(each)), typed])}
        />
      )}
    </div>
  );
}

interface BoxProps {
  readonly fieldId: string;
  readonly label: string;
  readonly checked: boolean;
  readonly readOnly: boolean;
  readonly onTick: (ticked: boolean) => void;
}

export function Box({ fieldId, label, checked, readOnly, onTick }: BoxProps) {
  return (
    <label className={`option${checked ? ' chosen' : ''}`}>
      <input
        type="checkbox"
        data-field={fieldId}
        checked={checked}
        disabled={readOnly}
        onChange={(event) => onTick(event.target.checked)}
      />
      <span>{label}</span>
    </label>
  );
}

/** A draft may say more for a moment; the checks tell of it, and the page stays answering. */
const MOST_DRAWN = 100;

const numbers = (from: number, to: number): number[] =>
  Array.from({ length: Math.max(0, Math.min(MOST_DRAWN, to - from + 1)) }, (_, n) => from + n);

/** Steps from m to n, drawn as marks that fill up to the chosen one, or as figures. */
export function StepsControl(props: ControlProps) {
  const { details, text, onText } = props;
  const { from = USUAL_STEPS.from, to = USUAL_STEPS.to } = details;
  const options = numbers(from, to).map((step): Option => ({
    value: String(step),
    label: `${step} of ${to}`,
    face: details.figures ? (
      <span>{step}</span>
    ) : (
      <span className={`step-mark${text !== '' && Number(text) >= step ? ' reached' : ''}`} />
    ),
  }));
  return (
    <div className="scale">
      <OptionSet
        {...common(props)}
        arranged="joined bare"
        value={text}
        options={options}
        onPick={onText}
      />
      {!details.figures && text !== '' && <span>{`${text} of ${to}`}</span>}
    </div>
  );
}

/** A scale between two whole numbers, its ends in words. */
export function ScaleControl(props: ControlProps) {
  const { details, text, onText } = props;
  const { from, to, ends } = details;
  if (from === undefined || to === undefined) {
    return <span>This scale has no first and last number yet.</span>;
  }
  return (
    <div className="scale">
      {ends && <span>{ends[0]}</span>}
      <OptionSet
        {...common(props)}
        arranged="joined bare"
        value={text}
        options={numbers(from, to).map((step) => ({ value: String(step), label: String(step) }))}
        onPick={onText}
      />
      {ends && <span>{ends[1]}</span>}
    </div>
  );
}

/** Choices as pictures, each with its name under it. */
export function PicturesControl(props: ControlProps) {
  const { details, text, items, workbookId, onText } = props;
  return (
    <OptionSet
      {...common(props)}
      arranged="cards"
      value={text}
      options={items.map(({ text: choice, label }) => {
        const fileId = details.pictures?.[choice];
        return {
          value: choice,
          label,
          face: (
            <>
              {fileId !== undefined && <img src={paths.file(workbookId, fileId)} alt="" />}
              <span>{label}</span>
            </>
          ),
        };
      })}
      onPick={onText}
    />
  );
}

/** The picture of what is chosen, where the form has one for it. */
export function ChosenPicture({ details, text, workbookId }: ControlProps) {
  const fileId = details.follows ? details.pictures?.[text] : undefined;
  if (fileId === undefined) return null;
  return (
    <img
      src={paths.file(workbookId, fileId)}
      alt={text}
      style={{ maxHeight: 160, maxWidth: '100%', marginTop: 6 }}
    />
  );
}
