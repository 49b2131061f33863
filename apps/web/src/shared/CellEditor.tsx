import type { Operation } from '@wide-lattice/core/plan';
import type { Result } from '@wide-lattice/core/result';
import { useId, useRef, useState } from 'react';
import type { ComponentProps } from 'react';
import { useBegan } from '../plan/useBegan';
import type { FieldOption } from './fieldOptions';

/** How one cell is edited. */
export interface CellEdit {
  /** The text the editor starts with. */
  readonly text: string;
  /** Choices, when the value is one of a few. */
  readonly options?: readonly FieldOption[];
  /** What the cell is, for the history: "Nodes now of booking-north". */
  readonly title: string;
  /** The change that stores a text, or why the text cannot be read; whether it can be stored is said when it is tried. */
  readonly change: (text: string) => Result<Operation>;
}

interface CellEditorProps {
  readonly edit: CellEdit;
  readonly label: string;
  /** The key that opened the editor, when it was a letter or digit. */
  readonly typed: string | undefined;
  /** Stores the text, typed over what stood there at a revision; returns why it could not be, or an empty text. */
  readonly onStore: (text: string, from: number) => Promise<string>;
  readonly onDone: () => void;
}

/** Edits one cell in place: Enter stores, Escape leaves; what is refused stays in the field with the reason. */
export function CellEditor({ edit, label, typed, onStore, onDone }: CellEditorProps) {
  const began = useBegan(true);
  // What stands there may change while this is open; leaving it as it was found stores nothing.
  const [found] = useState(edit.text);
  const [text, setText] = useState(typed ?? found);
  const [problem, setProblem] = useState('');
  // While it is stored, and once it is: the focus that leaves with the editor stores nothing more.
  const isClosed = useRef(false);
  const errorId = useId();
  const store = async (value: string) => {
    if (isClosed.current) return;
    isClosed.current = true;
    const refused = value === found ? '' : await onStore(value, began);
    if (refused === '') onDone();
    else {
      isClosed.current = false;
      setProblem(refused);
    }
  };
  const leave = () => {
    isClosed.current = true;
    onDone();
  };
  const common = {
    'aria-label': label,
    'aria-invalid': problem !== '',
    'aria-describedby': problem === '' ? undefined : errorId,
    autoFocus: true,
    onBlur: () => void (problem === '' ? store(text) : undefined),
  };
  return (
    <div className="relative w-full">
      {edit.options === undefined ? (
        <TextField
          {...common}
          isWrong={problem !== ''}
          isTyped={typed !== undefined}
          value={text}
          onType={(value) => {
            setText(value);
            setProblem('');
          }}
          onStore={() => void store(text)}
          onLeave={leave}
        />
      ) : (
        <Options
          {...common}
          options={edit.options}
          value={text}
          onChoose={(value) => {
            setText(value);
            void store(value);
          }}
          onLeave={leave}
        />
      )}
      {problem !== '' && <Refusal id={errorId} problem={problem} />}
    </div>
  );
}

interface TextFieldProps extends Omit<ComponentProps<'input'>, 'onChange'> {
  readonly isWrong: boolean;
  /** Whether a key that was typed opened it: what stands there is not marked then. */
  readonly isTyped: boolean;
  readonly onType: (text: string) => void;
  readonly onStore: () => void;
  readonly onLeave: () => void;
}

function TextField({ isWrong, isTyped, onType, onStore, onLeave, ...field }: TextFieldProps) {
  return (
    <input
      {...field}
      className={`input input-xs w-full font-mono ${isWrong ? 'input-error' : ''}`}
      onFocus={(event) => !isTyped && event.target.select()}
      onChange={(event) => onType(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === 'Enter') onStore();
        if (event.key === 'Escape') onLeave();
        event.stopPropagation();
      }}
    />
  );
}

interface OptionsProps extends Omit<ComponentProps<'select'>, 'onChange'> {
  readonly options: NonNullable<CellEdit['options']>;
  readonly onChoose: (value: string) => void;
  readonly onLeave: () => void;
}

function Options({ options, onChoose, onLeave, ...field }: OptionsProps) {
  return (
    <select
      {...field}
      className="select select-xs w-full"
      onChange={(event) => onChoose(event.target.value)}
      onKeyDown={(event) => {
        if (event.key === 'Escape') onLeave();
        event.stopPropagation();
      }}
    >
      {options.map(({ value, label: name }) => (
        <option key={value} value={value}>
          {name}
        </option>
      ))}
    </select>
  );
}

function Refusal({ id, problem }: { readonly id: string; readonly problem: string }) {
  return (
    <p
      id={id}
      role="alert"
      className="bg-error text-error-content absolute top-full left-0 z-20 mt-0.5 w-72 px-2 py-1 whitespace-normal shadow"
    >
      {problem}
    </p>
  );
}
