import { Choice } from '../ui/controls';

interface StoredChoiceProps {
  readonly value: 'together' | 'apart';
  /** Told when it is to be stored the other way. */
  readonly onOther: () => void;
}

/** Whether several choices are stored in one cell or in a column each. */
export function StoredChoice({ value, onOther }: StoredChoiceProps) {
  return (
    <Choice
      label="Stored"
      value={value}
      options={[
        ['together', 'In one cell'],
        ['apart', 'In a column for each choice'],
      ]}
      onChange={onOther}
    />
  );
}
