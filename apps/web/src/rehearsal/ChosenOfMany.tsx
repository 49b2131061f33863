import { X } from 'lucide-react';
import { useId } from 'react';

interface ChosenOfManyProps {
  readonly label: string;
  readonly help: string;
  readonly all: readonly { readonly key: string; readonly label: string }[];
  readonly chosen: readonly string[];
  readonly onAdd: (key: string) => void;
  readonly onRemove: (key: string) => void;
}

/** Some of many: those that are chosen, and a list to add from. */
export function ChosenOfMany({ label, help, all, chosen, onAdd, onRemove }: ChosenOfManyProps) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className="font-semibold">
        {label}
      </label>
      <p className="quiet">{help}</p>
      <ul className="my-1 flex flex-wrap gap-1.5" aria-label={`${label}, chosen`}>
        {all
          .filter(({ key }) => chosen.includes(key))
          .map(({ key, label: name }) => (
            <li key={key} className="border-base-300 inline-flex items-center gap-1 rounded border px-1.5">
              {name}
              <button
                type="button"
                className="btn btn-ghost btn-xs btn-square"
                aria-label={`Remove ${name}`}
                onClick={() => {
                  onRemove(key);
                }}
              >
                <X size={12} aria-hidden />
              </button>
            </li>
          ))}
      </ul>
      <select
        id={id}
        className="select select-sm w-72"
        value=""
        onChange={(event) => {
          onAdd(event.target.value);
        }}
      >
        <option value="">Add…</option>
        {all
          .filter(({ key }) => !chosen.includes(key))
          .map(({ key, label: name }) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
      </select>
    </div>
  );
}
