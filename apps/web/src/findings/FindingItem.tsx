import type { ProposalRequest } from '@wide-lattice/core/allocation';
import type { DescribedFinding, DescribedFix } from '@wide-lattice/core/findings';
import { useState } from 'react';
import { Link } from 'react-router';
import { ProposalDialog } from '../ranges/ProposalDialog';
import { MoveGround } from '../ground/MoveGround';
import { Modal } from '../shared/Modal';
import { ChangeDialog } from './ChangeDialog';
import { RenumberDialog } from './RenumberDialog';
import { SeverityMark } from '../shared/Marks';
import { usePlan } from '../plan/PlanContext';
import { usePlanPath } from '../plan/usePlanPath';
import { byId, kindNames } from '@wide-lattice/core/plan';
import type { Entity, Plan } from '@wide-lattice/core/plan';
import { linkTo } from '../kinds/kindViews';

interface FindingItemProps {
  readonly finding: DescribedFinding;
  /** The level that fits the page around it. */
  readonly heading?: 'h2' | 'h3';
  /** False while the finding is about a draft: a proposal works on what is stored. */
  readonly canFix?: boolean;
  /** With how it comes about and every fix, or in a few lines with the first fix and where the rest is. */
  readonly isBrief?: boolean;
}

/** One finding: what is wrong, why, how it comes about, and what can be done. */
export function FindingItem({ finding, heading: Heading = 'h3', canFix = true, isBrief = false }: FindingItemProps) {
  const { plan } = usePlan();
  const [request, setRequest] = useState<ProposalRequest>();
  const [isRenumbering, setRenumbering] = useState(false);
  const [change, setChange] = useState<DescribedFix & { kind: 'change' | 'connection' }>();
  const [moving, setMoving] = useState<DescribedFix & { kind: 'ground' }>();
  const open = (fix: DescribedFix) => {
    if (fix.kind === 'ground') setMoving(fix);
    else if (fix.kind === 'change' || fix.kind === 'connection') setChange(fix);
    else setRequest(requestOf(fix));
  };
  const place = isBrief && finding.fixes.length === 0 && finding.ask === undefined ? placeOf(finding, plan) : undefined;
  const isOverlap = finding.code === 'overlap.conflict' || finding.code === 'overlap.shadowed';
  return (
    <article className="rule-b py-2 last:border-0" aria-label={finding.title}>
      <div className="flex items-start gap-2">
        <span className="w-20 shrink-0">
          <SeverityMark severity={finding.severity} />
        </span>
        <Heading className="font-semibold">{finding.title}</Heading>
      </div>
      <div className="ml-22">
        <p className={`break-words ${isBrief ? 'quiet line-clamp-2' : ''}`}>{finding.detail}</p>
        {!isBrief && finding.chain.length > 0 && (
          <ol className="quiet mt-1 list-decimal pl-4">
            {finding.chain.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ol>
        )}
        {canFix && (finding.fixes.length > 0 || isOverlap || finding.ask !== undefined || place !== undefined) && (
          <Acts
            finding={finding}
            place={place}
            fixes={isBrief ? finding.fixes.slice(0, 1) : finding.fixes}
            onCompare={isOverlap ? () => setRenumbering(true) : undefined}
            onFix={open}
          />
        )}
      </div>
      {isRenumbering && (
        <RenumberDialog rangeIds={finding.subjects.map(({ id }) => id)} onClose={() => setRenumbering(false)} />
      )}
      {request !== undefined && <ProposalDialog request={request} onClose={() => setRequest(undefined)} />}
      {change !== undefined && <ChangeDialog fix={change} onClose={() => setChange(undefined)} />}
      {moving !== undefined && (
        <Modal
          title={moving.title}
          description="Applied as one change, which undo takes back."
          onClose={() => setMoving(undefined)}
          isWide
        >
          <MoveGround moving={moving.moving} id={moving.id} onMoved={() => setMoving(undefined)} />
        </Modal>
      )}
    </article>
  );
}

interface ActsProps {
  readonly finding: DescribedFinding;
  readonly place: ReturnType<typeof placeOf>;
  readonly fixes: readonly DescribedFix[];
  /** Of overlaps. */
  readonly onCompare: (() => void) | undefined;
  readonly onFix: (fix: DescribedFix) => void;
}

/** What can be done about a finding: seen on the road, compared, fixed, or edited where it is. */
function Acts({ finding: { ask }, place, fixes, onCompare, onFix }: ActsProps) {
  const { plan } = usePlan();
  const path = usePlanPath();
  return (
    <div className="mt-1.5 flex flex-wrap gap-2">
      {place !== undefined && (
        <Link className="btn btn-xs btn-outline" to={path(place.path)}>
          {place.words}
        </Link>
      )}
      {ask !== undefined && (
        <Link className="btn btn-xs btn-outline" to={path(`egress?${new URLSearchParams({ ...ask }).toString()}`)}>
          Show the road
        </Link>
      )}
      {onCompare !== undefined && (
        <button type="button" className="btn btn-xs btn-outline" onClick={onCompare}>
          Compare the fixes
        </button>
      )}
      {fixes.map((fix) => (
        <button key={formatFix(fix, plan)} type="button" className="btn btn-xs btn-outline" onClick={() => onFix(fix)}>
          {formatFix(fix, plan)}
        </button>
      ))}
    </div>
  );
}

/** Where what a finding is about is edited, for one that brings no change with it. */
function placeOf(
  { subjects: [first] }: DescribedFinding,
  plan: Plan,
): { readonly words: string; readonly path: string } | undefined {
  if (first === undefined) return undefined;
  const entity = byId<Entity>(plan[first.kind], first.id);
  return entity === undefined
    ? undefined
    : { words: `Show the ${kindNames[first.kind]}`, path: linkTo(first.kind, entity as never) };
}

function requestOf(fix: Exclude<DescribedFix, { kind: 'change' | 'connection' | 'ground' }>): ProposalRequest {
  switch (fix.kind) {
    case 'move':
      return { move: [fix.allocationId] };
    case 'grow':
      return { grow: [fix.allocationId] };
    case 'further':
      return { further: [fix.allocationId] };
    case 'allocate':
      return { clusterIds: [fix.clusterId] };
  }
}

function formatFix(fix: DescribedFix, plan: Plan): string {
  if (fix.kind === 'allocate') return 'Propose the missing ranges';
  if (fix.kind === 'change' || fix.kind === 'connection' || fix.kind === 'ground') return fix.title;
  const range = byId(plan.allocations, fix.allocationId);
  const cluster = byId(plan.clusters, range?.clusterId ?? '');
  if (fix.kind === 'grow') return `Grow ${range?.prefix ?? ''} in place`;
  return fix.kind === 'further'
    ? `Propose another ${range?.purpose ?? ''} subnet for ${cluster?.name ?? ''}`
    : `Propose another ${range?.purpose ?? ''} range for ${cluster?.name ?? ''}`;
}
