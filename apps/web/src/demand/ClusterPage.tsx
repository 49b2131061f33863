import { parsePrefix } from '@wide-lattice/core/address';
import { fallbacks, isSameValue, newId, removalOf, rulesOf, formatField, writeField } from '@wide-lattice/core/plan';
import type { Cluster, FieldRule, FieldValue, Plan } from '@wide-lattice/core/plan';
import type { PodSizes } from '@wide-lattice/core/sizing';
import { mostNodes } from '@wide-lattice/core/sizing';
import { useQuery, keepPreviousData } from '@tanstack/react-query';
import { ArrowLeft, Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import { useBegan } from '../plan/useBegan';
import { useCommit } from '../plan/useCommit';
import { useSlice } from '../plan/useSlice';
import { optionsOf } from '../shared/fieldOptions';
import { formParts } from '../shared/formParts';
import type { FormField } from '../shared/formParts';
import { Halves, Part } from '../shared/Halves';
import { ProposalDialog } from '../ranges/ProposalDialog';
import { core } from '../worker/coreClient';
import type { ClusterSheet } from '../worker/slices/clusterSheet';
import { isDraft, noDraft, placeKey, readDraft, formatDraft, withField, withRange } from './clusterDraft';
import type { Place } from './clusterDraft';
import { Consequences } from './Consequences';
import { DraftField } from './DraftField';
import { NodePoolsPart } from './NodePoolsPart';
import { RangeTable } from './RangeTable';
import { SubnetParts } from './SubnetParts';
import { TwoWay } from './TwoWay';
import { Inverse } from './Inverse';
import { MoreLikeThis } from './MoreLikeThis';
import { ReservationsPart } from './ReservationsPart';

type Field = Exclude<keyof Cluster, 'id'>;

// One id for each place while the page is open.
const draftIds = new Map<string, string>();

const parts = formParts('clusters');

/** One cluster: decisions on the left, and what follows on the right while they are typed. */
export function ClusterPage() {
  const { clusterId = '' } = useParams();
  const { plan, session } = usePlan();
  const stored = useSlice('cluster', clusterId, []);
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
    () => readDraft({ plan, cluster, stored: stored.needs, draft, idOf: (place) => idFor(cluster, place) }),
    [cluster, stored, draft, plan],
  );
  const { data: tried } = useQuery({
    queryKey: [session.planId, revision, 'draft', cluster.id, operations],
    queryFn: () => core.ask('cluster', cluster.id, operations),
    enabled: operations.length > 0,
    placeholderData: keepPreviousData,
  });
  const isTyped = isDraft(draft);
  const began = useBegan(isTyped);
  const preview = operations.length > 0 ? tried?.sheet : undefined;
  const sheet = preview ?? stored;
  const wholeProblem = operations.length > 0 ? tried?.problems[0] : undefined;
  const setField = (field: string, text: string) => {
    setRefused('');
    const now = writeField(plan, rules[field] as FieldRule, cluster[field as Field]);
    setDraft((before) => withField(before, field, text, now));
  };
  const setRange = (place: Place, text: string, now: string) => {
    setRefused('');
    setDraft((before) => withRange(before, place, text, now));
  };
  const store = async () => {
    const problem = await commit(`${cluster.name}: ${formatDraft(draft)}`, operations, began);
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
        options={optionsOf(plan, rule)}
        text={draft.fields[field] ?? writeField(plan, rule, cluster[field])}
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
  const isMissing = stored.needs.some(({ allocation, isOffered }) => allocation === undefined && !isOffered);
  return (
    <Halves
      screen="cluster"
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
              disabled={!isTyped}
              onClick={() => setDraft(noDraft)}
            >
              Discard
            </button>
            <button
              type="submit"
              className="btn btn-sm btn-primary"
              disabled={!isTyped || problems.size > 0 || operations.length === 0}
            >
              Save
            </button>
          </div>
          {(refused !== '' || wholeProblem !== undefined) && (
            <p role="alert" className="bg-error text-error-content px-4 py-1.5">
              {refused !== '' ? refused : `${wholeProblem?.message ?? ''} ${wholeProblem?.fix ?? ''}`}
            </p>
          )}
          <Part title="Demand">
            <div className="grid grid-cols-4 gap-x-3 gap-y-1.5">
              {parts.inSight.map(([field]) => fieldOf(field as Field))}
            </div>
            {parts.folded.map(({ title, fields }) => (
              <details
                key={title}
                className="rule-t mt-1.5 pt-1"
                open={fields.some(([field]) => isMarked(field as Field))}
              >
                <summary className="cursor-pointer">
                  {title} <span className="quiet">{formatFolded(plan, fields, cluster)}</span>
                </summary>
                <div className="grid grid-cols-4 gap-x-3 gap-y-1.5 py-1">
                  {fields.map(([field]) => fieldOf(field as Field))}
                </div>
              </details>
            ))}
          </Part>
          <Part
            title="Ranges"
            aside={
              <button
                type="button"
                className="btn btn-sm btn-outline"
                disabled={!isMissing || isTyped}
                onClick={() => setProposing(true)}
                title={isTyped ? 'Save or discard what you typed first' : isMissing ? '' : 'Nothing is missing'}
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
          <ReservationsPart cluster={cluster} reservations={stored.reservations} />
          {isProposing && <ProposalDialog request={{ clusterIds: [cluster.id] }} onClose={() => setProposing(false)} />}
        </form>
      }
      right={
        <>
          <p
            className={`rule-b px-4 py-2 ${isTyped ? 'bg-accent text-accent-content font-semibold' : 'quiet'}`}
            aria-live="polite"
          >
            {isTyped ? 'As typed, not saved yet' : 'As saved'}
          </p>
          <Consequences sheet={sheet} isDraft={isTyped} />
        </>
      }
    />
  );
}

/** Folded decisions in a few words: those that are not as usual. */
function formatFolded(plan: Plan, fields: readonly FormField[], cluster: Cluster): string {
  const usual = fallbacks('clusters');
  const words = fields.flatMap(([field, rule]) => {
    const value: FieldValue = cluster[field as Field];
    return isSameValue(value, usual[field]) ? [] : [`${rule.label}: ${formatField(plan, rule, value) || 'none'}`];
  });
  return words.length === 0 ? 'as usual' : words.join('; ');
}

function idFor(cluster: Cluster, place: Place): string {
  const key = `${cluster.id} ${placeKey(place)}`;
  const known = draftIds.get(key) ?? newId();
  draftIds.set(key, known);
  return known;
}

/** The sizes of a cluster's IPv4 pods as they are: the range it has, or the one it needs. */
function podSizesOf({ needs, nodesNow, nodesHorizon, podSizes }: ClusterSheet): PodSizes {
  const pod = needs.find(({ purpose, family }) => purpose === 'pod' && family === 'IPv4');
  const held = pod?.allocation === undefined ? undefined : parsePrefix(pod.allocation.prefix);
  return {
    nodes: Math.max(1, mostNodes({ nodesNow, nodesHorizon })),
    podsPerNode: podSizes.podsPerNode,
    perNodeLength: podSizes.perNodeLength,
    podRangeLength: held?.ok === true ? held.value.length : (pod?.needed?.value ?? 16),
  };
}
