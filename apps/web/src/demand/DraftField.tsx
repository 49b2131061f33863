import type { FieldRule } from '@wide-lattice/core/plan';
import { useId } from 'react';

interface DraftFieldProps {
  readonly rule: FieldRule;
  readonly options: readonly { readonly value: string; readonly label: string }[] | undefined;
  readonly text: string;
  readonly isChanged: boolean;
  readonly problem: string | undefined;
  readonly onText: (text: string) => void;
}

/** A decision being typed: what it is now, whether it differs from what is stored, what is wrong with it. */
export function DraftField({ rule, options, text, isChanged, problem, onText }: DraftFieldProps) {
  const id = useId();
  const about = `${id}-about`;
  const common = { id, 'aria-describedby': about, 'aria-invalid': problem !== undefined };
  const unit = 'unit' in rule && rule.unit !== 'bits' ? ` (${rule.unit})` : '';
  return (
    <div className="min-w-0" title={rule.help}>
      <label htmlFor={id} className="block truncate">
        {rule.label}
        <span className="quiet">{unit}</span>
        {isChanged && <span className="text-accent font-semibold"> changed</span>}
      </label>
      {options === undefined ? (
        <input
          {...common}
          className={`input input-sm w-full ${problem === undefined ? '' : 'input-error'}`}
          autoComplete="off"
          placeholder={rule.empty ?? ''}
          value={text}
          onChange={(event) => onText(event.target.value)}
        />
      ) : (
        <select
          {...common}
          className="select select-sm w-full"
          value={text}
          onChange={(event) => onText(event.target.value)}
        >
          {options.map(({ value, label }) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      )}
      <p id={about} className={problem === undefined ? 'sr-only' : 'text-error text-xs'}>
        {problem ?? rule.help}
      </p>
    </div>
  );
}
