import { formatCount } from '@wide-lattice/core/working';
import { Download } from 'lucide-react';
import { Link } from 'react-router';
import { api } from '../plan/api';
import { usePlan } from '../plan/PlanContext';
import { useSlice } from '../plan/useSlice';
import { Computing, Halves, Part } from '../shared/Halves';
import { BundlePart } from './BundlePart';
import { ChecklistPart } from './ChecklistPart';

const files = [
  { file: 'plan.json', title: 'Plan file, JSON', about: 'The whole plan. Reading it back gives the same plan.' },
  { file: 'plan.yaml', title: 'Plan file, YAML', about: 'The same, easier to review line by line.' },
  {
    file: 'allocations.csv',
    title: 'Allocation table, CSV',
    about: 'One row per range, with its verdict, and what is still missing.',
  },
  {
    file: 'address-plan.pdf',
    title: 'Address plan, PDF',
    about: 'Pools to scale, every site, network and range, and the findings, to sign and to file.',
  },
] as const;

/** Stop 10: what builders need. The bundle and single files on the left, whether they may be used and in which steps on the right. */
export function HandoverPage() {
  const { session } = usePlan();
  return (
    <Halves
      screen="handover"
      rightWidth="36rem"
      left={
        <>
          <BundlePart />
          <Files planId={session.planId} />
        </>
      }
      right={
        <>
          <Readiness />
          <ChecklistPart />
        </>
      }
    />
  );
}

function Files({ planId }: { readonly planId: string }) {
  return (
    <Part title="Single files">
      <ul>
        {files.map(({ file, title, about }) => (
          <li key={file} className="rule-b flex items-center justify-between gap-4 py-2">
            <div>
              <div className="font-semibold">{title}</div>
              <div className="quiet">{about}</div>
            </div>
            <a
              className="btn btn-sm btn-outline"
              href={api.exportUrl(planId, file)}
              download={file}
              aria-label={`Download ${title}`}
            >
              <Download size={14} aria-hidden /> {file}
            </a>
          </li>
        ))}
      </ul>
      <p className="mt-3">
        The address plan can be read and printed as a page too:{' '}
        <Link className="link" to={`/plans/${planId}/print`}>
          address plan
        </Link>
        .
      </p>
      <p className="mt-3">
        Zone files, one zone or all, are written at{' '}
        <Link className="link" to={`/plans/${planId}/dns?side=files`}>
          DNS
        </Link>
        , manifests of a cluster at{' '}
        <Link className="link" to={`/plans/${planId}/ingress?side=manifests`}>
          Ingress
        </Link>
        , value sheets of connected clusters at{' '}
        <Link className="link" to={`/plans/${planId}/cross-cluster?side=values`}>
          Cross-cluster
        </Link>
        .
      </p>
      <p className="mt-3">
        The form of the plan file is published as a JSON Schema:{' '}
        <a className="link" href="/api/plan-file.schema.json">
          plan-file.schema.json
        </a>
        . To start a plan from such a file, go to the list of plans.
      </p>
    </Part>
  );
}

function Readiness() {
  const counts = useSlice('findingCounts');
  // Before they are counted nothing may be called ready.
  if (counts === undefined) return <Computing />;
  const conflicts = counts.byCode['overlap.conflict'] ?? 0;
  const missing = counts.byCode['range.missing'] ?? 0;
  return (
    <>
      <Part title="Ready to build?">
        <p className={conflicts > 0 ? 'text-error font-semibold' : ''}>
          {conflicts === 0
            ? 'There is no conflict.'
            : `${conflicts} ${conflicts === 1 ? 'conflict is' : 'conflicts are'} left: do not build from this yet.`}
        </p>
        <p>
          {missing === 0
            ? 'Every cluster has its ranges.'
            : `${missing} ${missing === 1 ? 'cluster lacks' : 'clusters lack'} ranges.`}
        </p>
        <p className="quiet">
          {formatCount(counts.all.error, 'error')}, {formatCount(counts.all.warning, 'warning')},{' '}
          {formatCount(counts.all.note, 'note')} in all.
        </p>
      </Part>
      <Part title="Check in a pipeline">
        <p className="mb-2">
          The same check at the command line: exit code 1 while a conflict stands, 2 when the file cannot be read. With
          --base it tells only what is new since another plan file.
        </p>
        <pre className="bg-base-200 p-3 font-mono break-words whitespace-pre-wrap">
          npx wide-lattice check plan.yaml
        </pre>
      </Part>
    </>
  );
}
