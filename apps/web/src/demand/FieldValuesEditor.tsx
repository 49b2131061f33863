import {
  byId,
  effectiveTemplate,
  fallbackOf,
  fieldRules,
  readFieldChecked,
  readFieldValue,
  formatField,
  templateFields,
  writeField,
  writeFieldValue,
} from '@wide-lattice/core/plan';
import { formatProblem } from '@wide-lattice/core/result';
import type { Cluster, FieldValue, Template, TemplateField } from '@wide-lattice/core/plan';
import { formatCount } from '@wide-lattice/core/working';
import { Plus, X } from 'lucide-react';
import { useId, useState } from 'react';
import { usePlan } from '../plan/PlanContext';
import { optionsOf } from '../shared/fieldOptions';
import { Part } from '../shared/Halves';
import { IconButton } from '../shared/IconButton';

interface FieldValuesEditorProps {
  readonly template: Template;
  readonly sets: readonly string[];
  readonly onSets: (sets: readonly string[]) => void;
}

/** The fields that a template sets, its own and those it follows, each changed in place. */
export function FieldValuesEditor({ template, sets, onSets }: FieldValuesEditorProps) {
  const { plan } = usePlan();
  const base = byId(plan.templates, template.basedOnId ?? '');
  const followed = base === undefined ? {} : effectiveTemplate(plan, base).sets;
  const own = new Map(sets.map(readFieldValue).flatMap((read) => (read.ok ? [[read.field, read.value] as const] : [])));
  const write = (field: TemplateField, value: unknown) => {
    // The value was checked by the field's own rule.
    const text = writeFieldValue(field, value as Cluster[TemplateField]);
    // In its place: a field that is typed in stays where it is.
    onSets(own.has(field) ? sets.map((each) => (isOf(each, field) ? text : each)) : [...sets, text]);
  };
  return (
    <Part title={`Sets ${formatCount(own.size, 'field')}`}>
      <div className="grid grid-cols-2 gap-x-4 gap-y-1">
        {[...own].map(([field, value]) => (
          <SetField
            key={field}
            field={field}
            value={value as FieldValue}
            onValue={(next) => write(field, next)}
            onFree={() => onSets(sets.filter((text) => !isOf(text, field)))}
          />
        ))}
      </div>
      {Object.keys(followed).length > 0 && (
        <p className="quiet mt-2">
          Follows {base?.name}:{' '}
          {(Object.entries(followed) as [keyof Cluster & keyof typeof fieldRules.clusters, unknown][])
            .filter(([field]) => !own.has(field as TemplateField))
            .map(
              ([field, value]) =>
                `${fieldRules.clusters[field].label} ${formatField(plan, fieldRules.clusters[field], value as FieldValue)}`,
            )
            .join(', ')}
          .
        </p>
      )}
      <AddField
        fields={templateFields.filter((field) => !own.has(field))}
        onAdd={(field) => write(field, followed[field] ?? startOf(field))}
      />
    </Part>
  );
}

function AddField({
  fields,
  onAdd,
}: {
  readonly fields: readonly TemplateField[];
  readonly onAdd: (field: TemplateField) => void;
}) {
  const id = useId();
  return (
    <div className="mt-2 flex items-center gap-2">
      <Plus size={14} aria-hidden />
      <label htmlFor={id}>Set another field</label>
      <select
        id={id}
        className="select select-xs w-44"
        value=""
        onChange={(event) => {
          const field = fields.find((each) => each === event.target.value);
          if (field !== undefined) onAdd(field);
        }}
      >
        <option value="">choose</option>
        {fields.map((field) => (
          <option key={field} value={field}>
            {fieldRules.clusters[field].label}
          </option>
        ))}
      </select>
    </div>
  );
}

interface SetFieldProps {
  readonly field: TemplateField;
  readonly value: FieldValue;
  readonly onValue: (value: unknown) => void;
  readonly onFree: () => void;
}

function SetField({ field, value, onValue, onFree }: SetFieldProps) {
  const { plan } = usePlan();
  const id = useId();
  const rule = fieldRules.clusters[field];
  const stored = writeField(plan, rule, value);
  const [typed, setTyped] = useState<string>();
  const read = typed === undefined ? undefined : readFieldChecked(plan, rule, typed);
  const problem = read?.ok === false ? read.problem : undefined;
  const options = optionsOf(plan, rule);
  const take = (text: string) => {
    const next = readFieldChecked(plan, rule, text);
    setTyped(next.ok ? undefined : text);
    if (next.ok) onValue(next.value);
  };
  return (
    <div className="min-w-0" title={rule.help}>
      <div className="flex items-center justify-between">
        <label htmlFor={id} className="truncate">
          {rule.label}
        </label>
        <IconButton label={`Do not set ${rule.label}`} onClick={onFree}>
          <X size={12} aria-hidden />
        </IconButton>
      </div>
      {options === undefined ? (
        <input
          id={id}
          className={`input input-xs w-full ${problem === undefined ? '' : 'input-error'}`}
          aria-invalid={problem !== undefined}
          autoComplete="off"
          value={typed ?? stored}
          onChange={(event) => take(event.target.value)}
        />
      ) : (
        <select
          id={id}
          className="select select-xs w-full"
          value={stored}
          onChange={(event) => take(event.target.value)}
        >
          {options.map((option) => (
            <option key={option.value} value={option.value}>
              {option.label}
            </option>
          ))}
        </select>
      )}
      {problem !== undefined && <p className="text-error text-xs">{formatProblem(problem)}</p>}
    </div>
  );
}

function isOf(text: string, field: TemplateField): boolean {
  const fix = readFieldValue(text);
  return fix.ok && fix.field === field;
}

/** What a field that was open starts from: its usual value, or its least. */
function startOf(field: TemplateField): unknown {
  const rule = fieldRules.clusters[field];
  return fallbackOf(rule) ?? (rule.type === 'integer' ? Math.max(1, rule.min) : null);
}
