import { addOperation, checkField, fallbacks, kindNames, newId, rulesOf } from '@wide-lattice/core';
import type { EntityOf, FieldRule, Kind } from '@wide-lattice/core';
import { useId, useState } from 'react';
import { useForm } from 'react-hook-form';
import type { UseFormRegisterReturn } from 'react-hook-form';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import type { FieldValue } from './entityColumns';
import { optionsOf, readValue, textOf } from './entityColumns';
import { DialogFoot } from './DialogFoot';
import { Modal } from './Modal';

interface EntityFormProps {
  readonly kind: Kind;
  readonly onClose: () => void;
  readonly onAdded?: (id: string) => void;
}

/** Adds one entity; every field is checked by its rule as it is left, and what is refused stays in the form. */
export function EntityForm({ kind, onClose, onAdded }: EntityFormProps) {
  const { plan } = usePlan();
  const commit = useCommit();
  const [refused, setRefused] = useState('');
  const rules = Object.entries(rulesOf(kind));
  const start = fallbacks(kind);
  const form = useForm<Record<string, string>>({
    mode: 'onTouched',
    defaultValues: Object.fromEntries(
      rules.map(([field, rule]) => [
        field,
        textOf(plan, rule, (start[field] ?? null) as FieldValue) || (optionsOf(plan, rule)?.options?.[0]?.value ?? ''),
      ]),
    ),
  });
  const submit = form.handleSubmit(async (texts) => {
    const values = Object.fromEntries(rules.map(([field, rule]) => [field, readValue(plan, rule, texts[field] ?? '')]));
    const id = newId();
    // Each value was read by its field's rule; the change is checked whole before it is stored.
    const entity = { id, ...values } as unknown as EntityOf[Kind];
    const name = texts['name'] ?? texts['prefix'] ?? '';
    const problem = await commit(`Add ${kindNames[kind]} ${name}`, [addOperation(kind, entity)]);
    setRefused(problem);
    if (problem !== '') return;
    onAdded?.(id);
    onClose();
  });
  const [first, folded] = inParts(rules, start);
  const fieldOf = ([field, rule]: readonly [string, FieldRule]) => (
    <FormField
      key={field}
      rule={rule}
      options={optionsOf(plan, rule)?.options}
      problem={form.formState.errors[field]?.message}
      registered={form.register(field, {
        validate: (text) => {
          const problem = checkField(rule, readValue(plan, rule, text));
          return problem === undefined || `${problem.message} ${problem.mend}`;
        },
      })}
    />
  );
  return (
    <Modal
      title={`Add ${/^[aeiou]/.test(kindNames[kind]) ? 'an' : 'a'} ${kindNames[kind]}`}
      description="Fields that are already filled hold the usual value."
      onClose={onClose}
    >
      <form onSubmit={(event) => void submit(event)} noValidate className="grid grid-cols-2 gap-x-4 gap-y-2">
        {first.map(fieldOf)}
        {folded.length > 0 && (
          <details className="col-span-2" open={folded.some(([field]) => form.formState.errors[field] !== undefined)}>
            <summary className="cursor-pointer py-1">{folded.length} more, with their usual values</summary>
            <div className="grid grid-cols-2 gap-x-4 gap-y-2">{folded.map(fieldOf)}</div>
          </details>
        )}
        <div className="col-span-2">
          <DialogFoot refused={refused} leave="Cancel" onLeave={onClose}>
            <button type="submit" className="btn btn-sm btn-primary" disabled={form.formState.isSubmitting}>
              Add
            </button>
          </DialogFoot>
        </div>
      </form>
    </Modal>
  );
}

/** More fields than this are a wall: those that have a usual value are folded. */
const MOST_IN_SIGHT = 16;

type Fields = readonly (readonly [string, FieldRule])[];

function inParts(rules: Fields, usual: Readonly<Record<string, unknown>>): readonly [Fields, Fields] {
  if (rules.length <= MOST_IN_SIGHT) return [rules, []];
  const isUsual = ([field]: readonly [string, FieldRule]) => Object.hasOwn(usual, field);
  return [rules.filter((each) => !isUsual(each)), rules.filter(isUsual)];
}

interface FormFieldProps {
  readonly rule: FieldRule;
  readonly options: readonly { readonly value: string; readonly label: string }[] | undefined;
  readonly problem: string | undefined;
  readonly registered: UseFormRegisterReturn;
}

/** One labelled field of a form. */
function FormField({ rule, options, problem, registered }: FormFieldProps) {
  const id = useId();
  const describedBy = `${id}-about`;
  const common = { id, 'aria-describedby': describedBy, 'aria-invalid': problem !== undefined, ...registered };
  const list =
    rule.type === 'choices'
      ? `Several of ${rule.options.join(', ')}, with commas. `
      : rule.type === 'texts' || rule.type === 'references' || rule.type === 'prefixes'
        ? 'Several with commas. '
        : '';
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="block font-medium">
        {rule.label}
      </label>
      {options === undefined ? (
        <input
          {...common}
          className={`input input-sm w-full ${rule.type === 'prefix' || rule.type === 'address' ? 'font-mono' : ''} ${problem === undefined ? '' : 'input-error'}`}
          autoComplete="off"
        />
      ) : (
        <select {...common} className="select select-sm w-full">
          {options.map(({ value, label }) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      )}
      <p id={describedBy} className={problem === undefined ? 'quiet text-xs' : 'text-error text-xs'}>
        {problem ?? `${list}${rule.help}`}
      </p>
    </div>
  );
}
