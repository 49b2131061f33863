import {
  addOperation,
  checkField,
  fallbacks,
  formatPrefix,
  isSameValue,
  newId,
  parsePrefix,
  removalOf,
  rulesOf,
  sayProblem,
  setOperation,
} from '@wide-lattice/core';
import type { Cluster, FieldRule, Operation, Plan, PodSizes } from '@wide-lattice/core';
import { useQuery, keepPreviousData } from '@tanstack/react-query';
import { ArrowLeft, Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useCommit } from '../plan/useCommit';
import { useSlice } from '../plan/useSlice';
import { optionsOf, readValue, sayValue, textOf } from '../shared/entityColumns';
import type { FieldValue } from '../shared/entityColumns';
import { FigureButton } from '../shared/FigureButton';
import { Halves, Part } from '../shared/Halves';
import { PurposeTag, VerdictMark } from '../shared/Marks';
import { ProposalDialog } from '../ranges/ProposalDialog';
import { core } from '../worker/coreClient';
import type { ClusterSheet, NeedRow } from '../worker/slices/clusterSheet';
import { Consequences } from './Consequences';
import { DraftField } from './DraftField';
import { NodePoolsPart } from './NodePoolsPart';
import { SubnetParts } from './SubnetParts';
import { TwoWay } from './TwoWay';
import { Inverse } from './Inverse';
import { MoreLikeThis } from './MoreLikeThis';
import { RunsPart } from './RunsPart';

type Field = Exclude<keyof Cluster, 'id'>;
const fields: readonly Field[] = [
  'name',
  'siteId',
  'networkId',
  'shapeId',
  'nodesNow',
  'nodesHorizon',
  'podsPerNode',
  'perNodeLength',
  'podMode',
  'family',
  'services',
  'surgePercent',
  'zoneCount',
  'entryAddresses',
  'hasEntrySubnets',
  'isBuilt',
];
/** Decisions that are seldom changed, folded under a line that says what they are. */
const folded: readonly { readonly title: string; readonly fields: readonly Field[] }[] = [
  { title: 'Control plane', fields: ['controlPlane', 'controlNodes', 'controlShapeId', 'apiEndpoint'] },
  { title: 'Growth', fields: ['growth', 'growthPerYear', 'growthSteps'] },
  {
    title: 'Services by kind',
    fields: ['nodePortServices', 'balancerServices', 'headlessServices', 'hasPublicBalancers'],
  },
  { title: 'Ways out and traffic', fields: ['natAddresses', 'snatPorts', 'zoneGb', 'outGb'] },
  {
    title: 'Pod network',
    fields: ['encapsulation', 'encryption', 'podNeeds', 'podWishes', 'mtuFloor', 'templateId'],
  },
];

/** What has been typed and not stored: fields by name, ranges by their place. */
interface Draft {
  readonly fields: Readonly<Record<string, string>>;
  readonly ranges: Readonly<Record<string, string>>;
}

// One id for each place while the page is open, so that a range being typed stays the same range.
const draftIds = new Map<string, string>();
function draftId(clusterId: string, place: string): string {
  const key = `${clusterId} ${place}`;
  const known = draftIds.get(key) ?? newId();
  draftIds.set(key, known);
  return known;
}

const noDraft: Draft = { fields: {}, ranges: {} };
const placeOf = (need: Pick<NeedRow, 'purpose' | 'zone' | 'family'>) => `${need.purpose} ${need.zone} ${need.family}`;

/** One cluster: decisions on the left, and what follows on the right while they are typed. */
export function ClusterPage() {
  const { clusterId = '' } = useParams();
  const { plan, session } = usePlan();
  const stored = useSlice(['cluster', clusterId], (worker) => worker.cluster(clusterId, []));
  const cluster = plan.clusters.find(({ id }) => id === clusterId);
  if (cluster === undefined) {
    return (
      <p className="quiet p-6">
        This cluster is not in the plan. <Link to={`/plans/${session.planId}/demand`}>To the clusters</Link>
      </p>
    );
  }
  if (stored?.sheet?.cluster.id !== clusterId) return <p className="quiet p-6">Computing...</p>;
  return <ClusterDecisions key={clusterId} cluster={cluster} stored={stored.sheet} />;
}

function ClusterDecisions({ cluster, stored }: { readonly cluster: Cluster; readonly stored: ClusterSheet }) {
  const { plan, session, revision } = usePlan();
  const commit = useCommit();
  const navigate = useNavigate();
  const [draft, setDraft] = useState(noDraft);
  const [refused, setRefused] = useState('');
  const [isProposing, setProposing] = useState(false);
  const rules = rulesOf('clusters');
  const { operations, problems } = useMemo(
    () => readDraft(cluster, stored, draft, plan),
    [cluster, stored, draft, plan],
  );
  const { data: tried } = useQuery({
    queryKey: [session.planId, revision, 'draft', cluster.id, operations],
    queryFn: () => core.cluster(cluster.id, operations),
    enabled: operations.length > 0,
    placeholderData: keepPreviousData,
  });
  const isDraft = Object.keys(draft.fields).length + Object.keys(draft.ranges).length > 0;
  const preview = operations.length > 0 ? tried?.sheet : undefined;
  const sheet = preview ?? stored;
  const wholeProblem = operations.length > 0 ? tried?.problems[0] : undefined;
  const setField = (field: string, text: string) => {
    setRefused('');
    setDraft((before) => ({
      ...before,
      fields: withText(
        before.fields,
        field,
        text,
        textOf(plan, rules[field] as FieldRule, cluster[field as keyof Cluster]),
      ),
    }));
  };
  const setRange = (place: string, text: string, now: string) => {
    setRefused('');
    setDraft((before) => ({ ...before, ranges: withText(before.ranges, place, text, now) }));
  };
  const store = async () => {
    const changed = [
      ...Object.keys(draft.fields).map((field) => rules[field]?.label ?? field),
      ...Object.keys(draft.ranges).map((place) => `${place.split(' ')[0]} range`),
    ];
    const problem = await commit(`${cluster.name}: ${changed.join(', ')}`, operations);
    setRefused(problem);
    if (problem !== '') return;
    draftIds.clear();
    setDraft(noDraft);
  };
  const remove = async () => {
    const problem = await commit(`Remove cluster ${cluster.name}`, removalOf(plan, 'clusters', cluster.id));
    if (problem === '') void navigate(`/plans/${session.planId}/demand`);
    else toast.error(problem);
  };
  const isMarked = (field: Field) => draft.fields[field] !== undefined || noticeOf(field) !== undefined;
  const noticeOf = (field: Field) =>
    problems.get(field) ??
    tried?.problems.find((each) => operations.length > 0 && each.field === field)?.message ??
    sheet.problems.find((each) => each.poolId === null && each.field === field)?.message;
  const fieldOf = (field: Field) => {
    const rule = rules[field] as FieldRule;
    return (
      <DraftField
        key={field}
        rule={rule}
        options={optionsOf(plan, rule)?.options}
        text={draft.fields[field] ?? textOf(plan, rule, cluster[field])}
        isChanged={draft.fields[field] !== undefined}
        problem={noticeOf(field)}
        onText={(text) => setField(field, text)}
      />
    );
  };
  const takeSizes = (sizes: PodSizes) => {
    const besides = stored.nodesHorizon - cluster.nodesHorizon;
    setField('nodesHorizon', String(Math.max(0, sizes.nodes - besides)));
    setField('podsPerNode', String(sizes.podsPerNode));
    setField('perNodeLength', String(sizes.perNodeLength));
  };
  const podSizes = podSizesOf(sheet);
  const isMissing = stored.needs.some(({ allocation }) => allocation === undefined);
  return (
    <Halves
      rightWidth="31rem"
      left={
        <form
          className="flex min-h-full flex-col"
          noValidate
          onSubmit={(event) => {
            event.preventDefault();
            void store();
          }}
        >
          <div className="rule-b bg-base-100 sticky top-0 z-10 flex items-center gap-2 px-4 py-1.5">
            <Link
              className="btn btn-ghost btn-sm btn-square"
              to={`/plans/${session.planId}/board`}
              aria-label="Back to the board"
            >
              <ArrowLeft size={16} aria-hidden />
            </Link>
            <h1 className="heading truncate">{cluster.name}</h1>
            <span className="quiet truncate">{stored.profileName} rules</span>
            <button type="button" className="btn btn-ghost btn-sm ml-auto" onClick={() => void remove()}>
              <Trash2 size={14} aria-hidden /> Remove
            </button>
            <button
              type="button"
              className="btn btn-sm btn-ghost"
              disabled={!isDraft}
              onClick={() => setDraft(noDraft)}
            >
              Discard
            </button>
            <button
              type="submit"
              className="btn btn-sm btn-primary"
              disabled={!isDraft || problems.size > 0 || operations.length === 0}
            >
              Store
            </button>
          </div>
          {(refused !== '' || wholeProblem !== undefined) && (
            <p role="alert" className="bg-error text-error-content px-4 py-1.5">
              {refused !== '' ? refused : `${wholeProblem?.message ?? ''} ${wholeProblem?.mend ?? ''}`}
            </p>
          )}
          <Part title="Demand">
            <div className="grid grid-cols-4 gap-x-3 gap-y-1.5">{fields.map(fieldOf)}</div>
            {folded.map(({ title, fields: own }) => (
              <details key={title} className="rule-t mt-1.5 pt-1" open={own.some((field) => isMarked(field))}>
                <summary className="cursor-pointer">
                  {title} <span className="quiet">{sayFolded(plan, own, cluster)}</span>
                </summary>
                <div className="grid grid-cols-4 gap-x-3 gap-y-1.5 py-1">{own.map(fieldOf)}</div>
              </details>
            ))}
          </Part>
          <Part
            title="Ranges"
            aside={
              <button
                type="button"
                className="btn btn-sm btn-outline"
                disabled={!isMissing || isDraft}
                onClick={() => setProposing(true)}
                title={isDraft ? 'Store or discard what you typed first' : isMissing ? '' : 'Nothing is missing'}
              >
                Propose missing ranges
              </button>
            }
          >
            <RangeTable sheet={sheet} stored={stored} draft={draft} problems={problems} onRange={setRange} />
          </Part>
          {cluster.podMode !== 'native' && cluster.family !== 'ipv6' && (
            <TwoWay key={JSON.stringify(podSizes)} start={podSizes} context={sheet.podSizes} onTake={takeSizes} />
          )}
          <NodePoolsPart clusterId={cluster.id} name={cluster.name} />
          {cluster.family !== 'ipv6' && <SubnetParts sheet={sheet} />}
          <Part title="Room for more">
            <MoreLikeThis clusterId={cluster.id} />
            <Inverse clusterId={cluster.id} />
          </Part>
          <RunsPart cluster={cluster} runs={stored.runs} />
          {isProposing && <ProposalDialog request={{ clusterIds: [cluster.id] }} onClose={() => setProposing(false)} />}
        </form>
      }
      right={
        <>
          <p
            className={`rule-b px-4 py-2 ${isDraft ? 'bg-accent text-accent-content font-semibold' : 'quiet'}`}
            aria-live="polite"
          >
            {isDraft ? 'As typed, not stored yet' : 'As stored'}
          </p>
          <Consequences sheet={sheet} isDraft={isDraft} />
        </>
      }
    />
  );
}

/** Folded decisions in a few words: those that are not as usual. */
function sayFolded(plan: Plan, fields: readonly Field[], cluster: Cluster): string {
  const usual = fallbacks('clusters');
  const words = fields.flatMap((field) => {
    const rule = rulesOf('clusters')[field] as FieldRule;
    const value: FieldValue = cluster[field];
    return isSameValue(value, usual[field]) ? [] : [`${rule.label}: ${sayValue(plan, rule, value) || 'none'}`];
  });
  return words.length === 0 ? 'as usual' : words.join('; ');
}

/** The sizes of a cluster's IPv4 pods as they are: the range it has, or the one it needs. */
function podSizesOf({ needs, nodesHorizon, podSizes }: ClusterSheet): PodSizes {
  const pod = needs.find(({ purpose, family }) => purpose === 'pod' && family === 'IPv4');
  const held = pod?.allocation === undefined ? undefined : parsePrefix(pod.allocation.prefix);
  return {
    nodes: Math.max(1, nodesHorizon),
    podsPerNode: podSizes.podsPerNode,
    perNodeLength: podSizes.perNodeLength,
    podRangeLength: held?.ok === true ? held.value.length : (pod?.needed.value ?? 16),
  };
}

interface RangeTableProps {
  readonly sheet: ClusterSheet;
  readonly stored: ClusterSheet;
  readonly draft: Draft;
  readonly problems: ReadonlyMap<string, string>;
  readonly onRange: (place: string, text: string, now: string) => void;
}

function RangeTable({ sheet, stored, draft, problems, onRange }: RangeTableProps) {
  const held = new Map(stored.needs.map((need) => [placeOf(need), need.allocation]));
  return (
    <table className="w-full">
      <thead>
        <tr className="quiet text-left">
          <th className="w-40 font-normal">For</th>
          <th className="w-20 font-normal">Needs</th>
          <th className="font-normal">Range</th>
          <th className="w-32 text-right font-normal">Addresses</th>
          <th className="w-28 pl-3 font-normal">Verdict</th>
        </tr>
      </thead>
      <tbody>
        {sheet.needs.map((need) => {
          const place = placeOf(need);
          const now = held.get(place)?.prefix ?? '';
          const problem = problems.get(place);
          return (
            <tr key={place} className="align-top">
              <th scope="row" className="py-1 text-left font-normal">
                <span className="inline-flex items-center gap-1.5">
                  <PurposeTag purpose={need.purpose} />
                  {need.purpose} {need.zone} <span className="quiet">{need.family}</span>
                </span>
              </th>
              <td className={`py-1 font-mono ${need.isLargeEnough ? '' : 'text-error font-semibold'}`}>
                <FigureButton figure={need.needed}>/{need.needed.value}</FigureButton>
              </td>
              <td className="py-0.5">
                <input
                  className={`input input-xs w-full font-mono ${problem === undefined ? '' : 'input-error'}`}
                  aria-label={`${need.purpose} range ${need.zone} ${need.family}`.replace('  ', ' ')}
                  aria-invalid={problem !== undefined}
                  placeholder="none yet: type one, or propose"
                  autoComplete="off"
                  value={draft.ranges[place] ?? now}
                  onChange={(event) => onRange(place, event.target.value, now)}
                />
                {problem !== undefined && <p className="text-error text-xs">{problem}</p>}
              </td>
              <td className="py-1 text-right font-mono">{need.size}</td>
              <td className="py-1 pl-3">
                {need.allocation === undefined ? (
                  <span className="quiet">none yet</span>
                ) : need.isLargeEnough ? (
                  <VerdictMark verdict={need.verdict} />
                ) : (
                  <span className="text-error font-semibold">too small</span>
                )}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

function withText(
  texts: Readonly<Record<string, string>>,
  key: string,
  text: string,
  now: string,
): Record<string, string> {
  const { [key]: _old, ...rest } = texts;
  return text === now ? rest : { ...rest, [key]: text };
}

/** Reads what was typed as operations; what cannot be read yet is named at its field, and the rest still counts. */
function readDraft(
  cluster: Cluster,
  stored: ClusterSheet,
  draft: Draft,
  plan: Parameters<typeof readValue>[0],
): { operations: Operation[]; problems: Map<string, string> } {
  const problems = new Map<string, string>();
  const rules = rulesOf('clusters');
  const good: Record<string, unknown> = {};
  for (const [field, text] of Object.entries(draft.fields)) {
    const rule = rules[field] as FieldRule;
    const value = readValue(plan, rule, text);
    const problem = checkField(rule, value);
    if (problem === undefined) good[field] = value;
    else problems.set(field, sayProblem(problem));
  }
  const operations: Operation[] = Object.keys(good).length === 0 ? [] : [setOperation('clusters', cluster.id, good)];
  for (const [place, text] of Object.entries(draft.ranges)) {
    const need = stored.needs.find((each) => placeOf(each) === place);
    const read = readRange(place, text, need, cluster.id);
    if (typeof read === 'string') problems.set(place, read);
    else operations.push(read);
  }
  return { operations, problems };
}

function readRange(place: string, text: string, need: NeedRow | undefined, clusterId: string): Operation | string {
  const [purpose, zone, family] = place.split(' ') as [NeedRow['purpose'], string, string];
  const allocation = need?.allocation;
  if (text.trim() === '')
    return allocation === undefined ? 'Type a prefix.' : { op: 'remove', kind: 'allocations', id: allocation.id };
  const parsed = parsePrefix(text);
  if (!parsed.ok) return `${parsed.problem.message} ${parsed.problem.mend}`;
  const { family: typed } = parsed.value;
  if (`IPv${typed}` !== family) return `This is IPv${typed}; an ${family} range is needed here.`;
  const prefix = formatPrefix(parsed.value);
  if (allocation !== undefined) return setOperation('allocations', allocation.id, { prefix });
  return addOperation('allocations', {
    id: draftId(clusterId, place),
    clusterId,
    purpose,
    zone,
    prefix,
    isFixed: false,
  });
}
