import {
  addOperation,
  fallbacks,
  kindNames,
  kindRules,
  newId,
  readFieldChecked,
  shownRules,
  withFallbacks,
} from '@wide-lattice/core/plan';
import { formatProblem } from '@wide-lattice/core/result';
import type { Entity, FieldRule, Kind, Plan } from '@wide-lattice/core/plan';
import { useId, useState } from 'react';
import type { ReactNode } from 'react';
import { useForm } from 'react-hook-form';
import type { UseFormRegisterReturn } from 'react-hook-form';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { DialogFoot } from './DialogFoot';
import { optionsOf, startText } from './fieldOptions';
import type { FieldOption } from './fieldOptions';
import { formParts } from './formParts';
import type { FormField } from './formParts';
import { Modal } from './Modal';
import { withArticle } from './withArticle';

interface EntityFormProps {
  readonly kind: Kind;
  readonly onClose: () => void;
  readonly onAdded?: (id: string) => void;
}

/** Adds one entity; every field is checked by its rule as it is left, and what is refused stays in the form. */
export function EntityForm({ kind, onClose, onAdded }: EntityFormProps) {
  const { plan, session } = usePlan();
  const commit = useCommit();
  const [refused, setRefused] = useState('');
  const [making, setMaking] = useState<{ readonly field: string; readonly kind: Kind }>();
  const rules = shownRules(kind);
  const start = fallbacks(kind);
  const form = useForm<Record<string, string>>({
    mode: 'onTouched',
    defaultValues: Object.fromEntries(rules.map(([field, rule]) => [field, startText(plan, rule, start[field])])),
  });
  const submit = form.handleSubmit(async (texts) => {
    const id = newId();
    // What the form does not show has its usual value; the change is checked whole before it is stored.
    const entity = withFallbacks(kind, { id, ...valuesOf(plan, rules, texts) });
    const name = texts['name'] ?? texts['prefix'] ?? '';
    const problem = await commit(`Add ${kindNames[kind]} ${name}`, [addOperation(kind, entity)]);
    setRefused(problem);
    if (problem !== '') return;
    onAdded?.(id);
    onClose();
  });
  const { first, folded } = addingParts(kind, start);
  const fieldOf = ([field, rule]: readonly [string, FieldRule]) => (
    <FormField
      key={field}
      rule={rule}
      options={optionsOf(plan, rule)}
      problem={form.formState.errors[field]?.message}
      onNew={rule.type === 'reference' ? () => setMaking({ field, kind: rule.to }) : undefined}
      registered={form.register(field, {
        validate: (text) => {
          const read = readFieldChecked(plan, rule, text);
          return read.ok || formatProblem(read.problem);
        },
      })}
    />
  );
  return (
    <Modal
      title={`Add ${withArticle(kindNames[kind])}`}
      description="Fields that are already filled hold the usual value."
      onClose={onClose}
    >
      <form onSubmit={(event) => void submit(event)} noValidate className="grid grid-cols-2 gap-x-4 gap-y-2">
        {first.map(fieldOf)}
        {folded.map(({ title, fields }) => (
          <Folded
            key={title}
            title={title}
            isOpen={fields.some(([field]) => form.formState.errors[field] !== undefined)}
          >
            {fields.map(fieldOf)}
          </Folded>
        ))}
        <div className="col-span-2">
          <DialogFoot refused={refused} onLeave={onClose}>
            <button type="submit" className="btn btn-sm btn-primary" disabled={form.formState.isSubmitting}>
              Add
            </button>
          </DialogFoot>
        </div>
      </form>
      {making !== undefined && (
        <EntityForm
          kind={making.kind}
          onClose={() => setMaking(undefined)}
          onAdded={(id) => {
            const { plan: now } = session.snapshot();
            const made = (now[making.kind] as readonly Entity[]).find((each) => each.id === id);
            if (made === undefined) return;
            // The list of choices has the new one once the form is drawn again.
            setTimeout(() =>
              form.setValue(making.field, kindRules(making.kind).label(made, now), { shouldValidate: true }),
            );
          }}
        />
      )}
    </Modal>
  );
}

function valuesOf(
  plan: Plan,
  rules: ReturnType<typeof shownRules>,
  texts: Readonly<Record<string, string>>,
): Record<string, unknown> {
  return Object.fromEntries(
    rules.map(([field, rule]) => {
      const read = readFieldChecked(plan, rule, texts[field] ?? '');
      // What cannot be read was refused at its field, so this is never reached with it.
      return [field, read.ok ? read.value : null];
    }),
  );
}

function Folded({
  title,
  isOpen,
  children,
}: {
  readonly title: string;
  readonly isOpen: boolean;
  readonly children: ReactNode;
}) {
  return (
    <details className="col-span-2" open={isOpen}>
      <summary className="cursor-pointer py-1">{title}</summary>
      <div className="grid grid-cols-2 gap-x-4 gap-y-2">{children}</div>
    </details>
  );
}

/** More fields than this are a wall: those that have a usual value are folded. */
const MAX_IN_SIGHT = 16;

/** The parts of a form for a new entity: what must be given first, then what is usually left as it is. */
function addingParts(kind: Kind, usual: Readonly<Record<string, unknown>>) {
  const { inSight, folded } = formParts(kind);
  if (shownRules(kind).length <= MAX_IN_SIGHT) return { first: inSight, folded };
  const isUsual = ([field]: FormField) => Object.hasOwn(usual, field);
  const rest = inSight.filter(isUsual);
  const more = { title: `${rest.length} more, with their usual values`, fields: rest };
  return {
    first: inSight.filter((field) => !isUsual(field)),
    folded: [more, ...folded.map((part) => ({ ...part, title: `${part.title}: ${part.fields.length} more` }))],
  };
}

interface FormFieldProps {
  readonly rule: FieldRule;
  readonly options: readonly FieldOption[] | undefined;
  readonly problem: string | undefined;
  readonly registered: UseFormRegisterReturn;
  /** Creates what the field could refer to; undefined for fields that refer to nothing. */
  readonly onNew: (() => void) | undefined;
}

/** One labelled field of a form. */
function FormField({ rule, options, problem, registered, onNew }: FormFieldProps) {
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
        <span className="flex gap-1">
          <select {...common} className="select select-sm w-full">
            {options.length === 0 && <option value="">none yet: create one</option>}
            {options.map(({ value, label }) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
          {onNew !== undefined && (
            <button
              type="button"
              className="btn btn-sm btn-outline"
              aria-label={`New ${rule.label.toLowerCase()}`}
              onClick={onNew}
            >
              New
            </button>
          )}
        </span>
      )}
      <p id={describedBy} className={problem === undefined ? 'quiet text-xs' : 'text-error text-xs'}>
        {problem ?? `${list}${rule.help}`}
      </p>
    </div>
  );
}
