import { applyOperations, byId, kindNames, kindRules, rulesOf, formatField } from '@wide-lattice/core/plan';
import type { Entity, FieldValue, Operation } from '@wide-lattice/core/plan';
import { useMemo } from 'react';
import { usePlan } from '../plan/PlanContext';

const SHOWN = 60;
/** Changes up to this size are tried, so that what is added along with something is told by its name. */
const MAX_TRIED = 500;

/** What a change does, one line a field; of a part of a change, with all that is made along with it. */
export function OperationList({
  operations,
  whole = operations,
}: {
  readonly operations: readonly Operation[];
  readonly whole?: readonly Operation[];
}) {
  const { plan: present } = usePlan();
  const plan = useMemo(() => {
    const applied = whole.length > MAX_TRIED ? undefined : applyOperations(present, whole);
    return applied?.ok === true ? applied.plan : present;
  }, [present, whole]);
  const formatFields = (kind: Operation['kind'], fields: object) =>
    Object.entries(fields as Record<string, FieldValue>).flatMap(([field, value]) => {
      const rule = rulesOf(kind)[field];
      // Hidden fields are kept for the application alone.
      return rule === undefined || rule.isHidden === true ? [] : [`${rule.label}: ${formatField(plan, rule, value)}`];
    });
  const say = (operation: Operation): { title: string; about?: string; fields: string[] } => {
    if (operation.kind === 'settings')
      return { title: 'Set the plan’s own fields', fields: formatFields('settings', operation.fields) };
    const kind = kindNames[operation.kind];
    if (operation.op === 'add')
      return {
        title: `Add ${kind} ${kindRules(operation.kind).label(operation.entity, plan)}`,
        about: kindRules(operation.kind).about(operation.entity, plan),
        fields: [],
      };
    const stands = byId<Entity>(present[operation.kind], operation.id);
    const entity = stands ?? byId<Entity>(plan[operation.kind], operation.id);
    const name =
      entity === undefined ? '' : kindRules(operation.kind).label(entity, stands === undefined ? plan : present);
    return operation.op === 'remove'
      ? { title: `Remove ${kind} ${name}`, fields: [] }
      : { title: `Set ${kind} ${name}`, fields: formatFields(operation.kind, operation.fields) };
  };
  return (
    <ul>
      {operations.slice(0, SHOWN).map((operation, i) => {
        const { title, about = '', fields } = say(operation);
        return (
          <li key={i} className="rule-b py-1">
            {title}
            {about !== '' && <span className="quiet"> {about}</span>}
            {fields.map((field) => (
              <div key={field} className="pl-4 font-mono text-xs">
                {field}
              </div>
            ))}
          </li>
        );
      })}
      {operations.length > SHOWN && <li className="quiet py-1">and {operations.length - SHOWN} more</li>}
    </ul>
  );
}
