import { useId } from 'react';

interface ChoiceProps {
  readonly label: string;
  readonly options: readonly { readonly value: string; readonly label: string }[];
  readonly value: string;
  readonly onChoose: (value: string) => void;
}

/** A labelled choice of one among a few. */
export function Choice({ label, options, value, onChoose }: ChoiceProps) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className="block">
        {label}
      </label>
      <select
        id={id}
        className="select select-sm w-full"
        value={value}
        onChange={(event) => onChoose(event.target.value)}
      >
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.label}
          </option>
        ))}
      </select>
    </div>
  );
}
