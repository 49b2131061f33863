import { readServicePort } from '@wide-lattice/core/plan';
import type { Exposure } from '@wide-lattice/core/ingress';
import type { Result } from '@wide-lattice/core/result';
import { useState } from 'react';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useAnswer } from '../plan/useSlice';
import type { Answer } from '../plan/useSlice';
import { Choice } from '../shared/Choice';
import { Computing, Empty, Part } from '../shared/Halves';
import { OperationList } from '../shared/OperationList';
import { Tick } from '../shared/Tick';
import { ApplyButton } from '../shared/ApplyButton';
import { TriedPart } from '../shared/TriedPart';

/** Exposes in one action: for a service by a host name and path, or for the API of a cluster that runs its own. */
export function ExposeView() {
  return (
    <>
      <ExposeService />
      <ExposeApi />
    </>
  );
}

function ExposeService() {
  const { plan } = usePlan();
  const open = plan.services.filter(({ type }) => type !== 'ExternalName');
  const [serviceId, setService] = useState(open[0]?.id ?? '');
  const [host, setHost] = useState('');
  const [path, setPath] = useState('/');
  const [side, setSide] = useState<'internal' | 'public'>('public');
  const [isTls, setTls] = useState(true);
  const service = plan.services.find(({ id }) => id === serviceId) ?? open[0];
  const ports = service?.ports.flatMap((text) => readServicePort(text)?.port ?? []) ?? [];
  const [port, setPort] = useState(0);
  const chosen = ports.includes(port) ? port : (ports[0] ?? 0);
  if (service === undefined) return <Empty>Add a workload and a service first: those are exposed.</Empty>;
  const clusterOf = (clusterId: string) => plan.clusters.find(({ id }) => id === clusterId)?.name ?? '';
  const isReady = host.trim() !== '' && path.startsWith('/');
  return (
    <Part title="Expose a service">
      <div className="grid grid-cols-2 gap-x-4 gap-y-2">
        <Choice
          label="Service"
          options={open.map((each) => ({
            value: each.id,
            label: `${each.namespace}/${each.name}, ${clusterOf(each.clusterId)}`,
          }))}
          value={service.id}
          onChoose={setService}
        />
        <Choice
          label="Port"
          options={ports.map((each) => ({ value: String(each), label: String(each) }))}
          value={String(chosen)}
          onChoose={(value) => setPort(Number(value))}
        />
        <Field id="expose-host" label="Host name" value={host} onChange={setHost} />
        <Field id="expose-path" label="Path" value={path} onChange={setPath} />
        <Choice
          label="Clients"
          options={[
            { value: 'public', label: 'on the internet' },
            { value: 'internal', label: 'inside the networks' },
          ]}
          value={side}
          onChoose={(value) => setSide(value === 'public' ? 'public' : 'internal')}
        />
        <Tick isOn={isTls} onTick={setTls} className="mt-6">
          With TLS
        </Tick>
      </div>
      {isReady ? (
        <Proposed
          request={{ serviceId: service.id, port: chosen, host: host.trim().toLowerCase(), path, side, isTls }}
        />
      ) : (
        <p className="quiet mt-2">
          {path.startsWith('/') ? 'Enter the host name that clients call.' : 'A path begins with a slash.'}
        </p>
      )}
    </Part>
  );
}

interface FieldProps {
  readonly id: string;
  readonly label: string;
  readonly value: string;
  readonly onChange: (value: string) => void;
}

function Field({ id, label, value, onChange }: FieldProps) {
  return (
    <div>
      <label htmlFor={id} className="block">
        {label}
      </label>
      <input
        id={id}
        className="input input-sm w-full"
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </div>
  );
}

type Request = Parameters<typeof useAnswer<'exposure'>>[1];

function Proposed({ request }: { readonly request: Request }) {
  const answer = useAnswer('exposure', request);
  return <Shown answer={answer} label={`Expose a service at ${request.host}${request.path}`} />;
}

function ExposeApi() {
  const { plan } = usePlan();
  const own = plan.clusters.filter(({ controlPlane }) => controlPlane === 'self-run');
  const [clusterId, setCluster] = useState(own[0]?.id ?? '');
  const answer = useAnswer('apiExposure', clusterId);
  if (own.length === 0) return null;
  return (
    <Part title="Load balancer for the API of a self-run cluster">
      <Choice
        label="Cluster"
        options={own.map(({ id, name }) => ({ value: id, label: name }))}
        value={clusterId}
        onChoose={setCluster}
      />
      <Shown answer={answer} label="Put the API behind a load balancer" />
    </Part>
  );
}

/** What opens an entry point, as one difference, and what stays to be done. */
function Shown({ answer, label }: { readonly answer: Answer<Result<Exposure>>; readonly label: string }) {
  const { slice: exposure, isFresh } = answer;
  const commit = useCommit();
  if (exposure === undefined) return <Computing />;
  if (!exposure.ok)
    return (
      <p role="alert" className="text-error mt-2">
        {exposure.problem.message} {exposure.problem.fix}
      </p>
    );
  const { operations, parts, openSteps } = exposure.value;
  const apply = async () => {
    const problem = await commit(label, operations);
    if (problem === '') toast.success('Applied. Ask for the host name to test it.');
    else toast.error(problem);
  };
  return (
    <div className="mt-2">
      <ul className="list-disc pl-5">
        {parts.map((part) => (
          <li key={part}>{part}</li>
        ))}
      </ul>
      <details className="mt-1">
        <summary className="quiet cursor-pointer">
          {operations.length} {operations.length === 1 ? 'row' : 'rows'}
        </summary>
        <OperationList operations={operations} />
      </details>
      {openSteps.length > 0 && (
        <>
          <p className="heading mt-2">Open steps</p>
          <ul className="list-disc pl-5">
            {openSteps.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ul>
        </>
      )}
      <TriedPart operations={operations} proposing="entryPoints" />
      <ApplyButton rows={operations.length} isFresh={isFresh} onApply={() => void apply()} className="mt-2" />
    </div>
  );
}
