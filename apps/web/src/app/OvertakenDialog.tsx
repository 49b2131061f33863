import { byId, kindNames, kindRules, rulesOf, formatField } from '@wide-lattice/core/plan';
import type { Clash, Entity, FieldValue, Operation, Plan } from '@wide-lattice/core/plan';
import { useState } from 'react';
import { clientId } from '../plan/identity';
import { usePlan } from '../plan/PlanContext';
import type { Overtaken } from '../plan/planSession';
import { Modal } from '../shared/Modal';
import { OperationList } from '../shared/OperationList';
import { TableHead } from '../shared/TableHead';
import { toggled } from '../shared/toggled';

/** An edit that met another: field by field what it began from, what stands there now and what it sets, and the choice between them. */
export function OvertakenDialog({ overtaken }: { readonly overtaken: Overtaken }) {
  const { session } = usePlan();
  const { operations, clashes, theirs, reverts } = overtaken;
  const [kept, setKept] = useState<ReadonlySet<string>>(new Set());
  const fields = clashes.filter((clash) => clash.field !== null && !clash.isRemoval);
  // What takes a change back, removes or adds is sent whole or not at all.
  const canPart = reverts === undefined && fields.length === clashes.length;
  const isOwn = theirs.length > 0 && theirs.every((change) => change.clientId === clientId());
  const who = isOwn ? 'You' : [...new Set(theirs.map(({ author }) => author))].join(', ') || 'Somebody';
  const left = canPart ? without(operations, fields, kept) : operations;
  const toggle = (key: string) => setKept(toggled(kept, key));
  return (
    <Modal
      title={`${who} edited the same fields since you began`}
      description="Your edit is not saved yet. Nothing is overwritten before you choose."
      onClose={() => session.yieldToTheirs()}
      isWide
    >
      {clashes.length > 0 && (
        <table className="mb-3 w-full" aria-label="Both sides, field by field">
          <TableHead
            labels={['Field', 'You began from', 'It is now', 'Yours', ...(canPart ? ['Keep what it is now'] : [])]}
          />
          <tbody>
            {clashes.map((clash) => (
              <ClashRow
                key={keyOf(clash)}
                clash={clash}
                kept={canPart ? { is: kept.has(keyOf(clash)), toggle: () => toggle(keyOf(clash)) } : undefined}
              />
            ))}
          </tbody>
        </table>
      )}
      <BothSides overtaken={overtaken} />
      <div className="mt-4 flex flex-wrap justify-end gap-2">
        <button type="button" className="btn btn-sm btn-outline" onClick={() => session.yieldToTheirs()}>
          Do not save mine
        </button>
        <button
          type="button"
          className="btn btn-sm btn-primary"
          disabled={left.length === 0}
          onClick={() => void session.insist(kept.size === 0 ? undefined : left)}
        >
          {kept.size === 0 ? 'Save mine on top' : 'Save the rest of mine'}
        </button>
      </div>
    </Modal>
  );
}

/** The two edits, each with all that it does. */
function BothSides({ overtaken: { label, operations, theirs } }: { readonly overtaken: Overtaken }) {
  return (
    <div className="grid grid-cols-1 gap-6 sm:grid-cols-2">
      <section aria-label="Yours">
        <h3 className="heading mb-1">Yours: {label}</h3>
        <OperationList operations={operations} />
      </section>
      <section aria-label="Theirs">
        {theirs.map((change) => (
          <div key={change.revision} className="mb-3">
            <h3 className="heading mb-1">
              {change.author}: {change.label}
            </h3>
            <OperationList operations={change.operations} />
          </div>
        ))}
      </section>
    </div>
  );
}

function ClashRow({
  clash,
  kept,
}: {
  readonly clash: Clash;
  readonly kept: { readonly is: boolean; readonly toggle: () => void } | undefined;
}) {
  const { plan } = usePlan();
  const name = nameOf(plan, clash);
  const rule = clash.field === null ? undefined : rulesOf(clash.kind)[clash.field];
  const say = (value: FieldValue) => (rule === undefined ? '' : formatField(plan, rule, value) || 'empty');
  const title = rule === undefined ? name : `${name}: ${rule.label}`;
  return (
    <tr className="rule-b align-top">
      <th scope="row" className="py-1 pr-3 text-left font-normal">
        {title}
      </th>
      {rule === undefined ? (
        <td colSpan={3} className="py-1 pr-3">
          It was removed or added meanwhile.
        </td>
      ) : (
        <>
          <td className="py-1 pr-3 font-mono">{say(clash.began)}</td>
          <td className="py-1 pr-3 font-mono">{say(clash.theirs)}</td>
          <td className="py-1 pr-3 font-mono">{clash.isRemoval ? 'removed' : say(clash.mine)}</td>
        </>
      )}
      {kept !== undefined && (
        <td className="py-1">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            aria-label={`Keep what ${title} is now`}
            checked={kept.is}
            onChange={kept.toggle}
          />
        </td>
      )}
    </tr>
  );
}

const keyOf = ({ kind, id, field }: Clash) => `${kind}:${id ?? ''}:${field ?? ''}`;

function nameOf(plan: Plan, { kind, id }: Clash): string {
  if (kind === 'settings') return 'The plan';
  const entity = byId<Entity>(plan[kind], id ?? '');
  return entity === undefined ? kindNames[kind] : kindRules(kind).label(entity, plan);
}

/** An edit without the fields whose present value is kept. */
function without(operations: readonly Operation[], clashes: readonly Clash[], kept: ReadonlySet<string>): Operation[] {
  const gone = new Set(clashes.map(keyOf).filter((key) => kept.has(key)));
  return operations.flatMap((operation): Operation[] => {
    if (operation.op !== 'set') return [operation];
    const id = operation.kind === 'settings' ? '' : operation.id;
    const fields = Object.entries(operation.fields).filter(([field]) => !gone.has(`${operation.kind}:${id}:${field}`));
    return fields.length === 0 ? [] : [{ ...operation, fields: Object.fromEntries(fields) }];
  });
}
