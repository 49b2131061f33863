import { useId, useState } from 'react';

interface AddByNameProps {
  readonly label: string;
  /** What is added, as in "No cluster is called...". */
  readonly what: string;
  readonly options: readonly { readonly id: string; readonly name: string }[];
  readonly onAdd: (id: string) => void;
}

/** Takes one of many by its name, which is searched as it is typed; a closed list would take the first that the keyboard meets. */
export function AddByName({ label, what, options, onAdd }: AddByNameProps) {
  const id = useId();
  const [typed, setTyped] = useState('');
  const [problem, setProblem] = useState('');
  const add = () => {
    const wanted = typed.trim().toLowerCase();
    const found = options.find(({ name }) => name.toLowerCase() === wanted);
    if (found === undefined) {
      setProblem(
        wanted === ''
          ? `Enter the name of a ${what}.`
          : `No ${what} left to add is called “${typed.trim()}”. Enter one of the list${options[0] === undefined ? '' : `, such as ${options[0].name}`}.`,
      );
      return;
    }
    setProblem('');
    setTyped('');
    onAdd(found.id);
  };
  return (
    <form
      className="flex flex-wrap items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        add();
      }}
    >
      <input
        className="input input-sm w-72"
        aria-label={label}
        aria-describedby={problem === '' ? undefined : `${id}problem`}
        aria-invalid={problem !== ''}
        placeholder={label}
        list={`${id}names`}
        value={typed}
        spellCheck={false}
        onChange={(event) => {
          setTyped(event.target.value);
          setProblem('');
        }}
      />
      <datalist id={`${id}names`}>
        {options.map((option) => (
          <option key={option.id} value={option.name} />
        ))}
      </datalist>
      <button type="submit" className="btn btn-sm btn-outline">
        Add
      </button>
      {problem !== '' && (
        <p id={`${id}problem`} role="alert" className="text-error w-full">
          {problem}
        </p>
      )}
    </form>
  );
}
