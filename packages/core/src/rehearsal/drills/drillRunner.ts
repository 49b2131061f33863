import type { DrillFact } from '../../english/index.js';
import { connected, runDrill, setMatrix } from '../../crosscluster/index.js';
import type { Evaluation } from '../../evaluation/index.js';
import { askTest } from '../../findings/index.js';
import { areNodesGone } from '../../forwarding/index.js';
import { ingress as compiled } from '../../ingress/index.js';
import type { IngressState } from '../../ingress/index.js';
import { byId, outageAsSets, zonesOfCluster } from '../../plan/index.js';
import type { Cluster, OutagePart } from '../../plan/index.js';
import type { Steps } from '../../working/index.js';
import type { TestResult } from '../runTests.js';
import { Suites } from '../suites.js';
import { capacityDrill } from './capacityDrills.js';
import { balancerReplaced, certificateExpired } from './nameDrills.js';
import { drillKey, outageOf } from './planDrills.js';
import type { DrillOutcome, PlanDrill } from './planDrills.js';
import { sitesByName, touchedBy } from './touched.js';
import type { Touched } from './touched.js';

/** A test that passes as the plan stands, and what it rests on. */
interface Passing {
  readonly test: TestResult;
  readonly touched: Touched;
}

/** Tests between two looks at whether to go on. */
const STEP = 50;

/**
 * Drills of the whole plan: the tests of the connection that pass are asked again while something is gone. Only those are asked
 * that rest on it, since what a road does not touch does not change it.
 */
export class DrillRunner {
  private asPlanned: readonly Passing[] | undefined;

  constructor(private readonly evaluation: Evaluation) {}

  /** Asks every test of the plan as it stands, when the first drill needs them. */
  private *passing(): Steps<readonly Passing[]> {
    if (this.asPlanned !== undefined) return this.asPlanned;
    const { evaluation } = this;
    const { plan } = evaluation;
    const tests = new Suites(plan).of({ kind: 'plan' });
    yield { what: 'the ways of packets', done: 0, of: tests.length };
    const state = evaluation.ask(compiled);
    const sites = sitesByName(plan);
    const passing: Passing[] = [];
    for (const [done, test] of tests.entries()) {
      if (done % STEP === 0) yield { what: 'what passes before the drills', done, of: tests.length };
      // What must be refused is refused all the more while something is gone.
      if (test.verdict === 'must be refused') continue;
      const { state: kept, verdict, asked, description } = askTest(plan, state, test);
      if (kept !== 'kept' || asked === undefined) continue;
      const touched = touchedBy(plan, sites, asked.question, asked.answer);
      passing.push({ test: { ...test, result: 'passed', asked: verdict, sentence: description, took: 0 }, touched });
    }
    this.asPlanned = passing;
    return passing;
  }

  /** Runs one drill; undefined where the plan has nothing that it could put to the test. */
  *run(drill: PlanDrill): Steps<DrillOutcome | undefined> {
    switch (drill.kind) {
      case 'zone lost':
      case 'site lost':
      case 'NAT lost':
      case 'firewall lost':
      case 'link cut':
      case 'several lost':
        return yield* this.without(drill, outageOf(drill));
      case 'gateway lost':
        return this.withoutGateway(drill);
      case 'load balancer replaced':
        return balancerReplaced(this.evaluation, drill);
      case 'certificate expired':
        return certificateExpired(this.evaluation.plan, drill);
      default:
        return capacityDrill(this.evaluation, drill);
    }
  }

  /** Asks again what rests on what is lost, one thing or several at once. */
  private *without(drill: PlanDrill, parts: readonly OutagePart[]): Steps<DrillOutcome | undefined> {
    const { plan } = this.evaluation;
    const { zones, devices, links } = outageAsSets(plan, parts);
    const state = this.evaluation.ask(compiled).drilled({ zones, devices }, links);
    const siteIds = new Set([...zones].map((zone) => zone.slice(0, zone.indexOf(' '))));
    const names = new Set(
      [
        ...[...plan.natDevices, ...plan.firewalls].filter(({ id }) => devices.has(id)),
        ...plan.links.filter(({ id }) => links.has(id)),
      ].map(({ name }) => name),
    );
    const isGone = (cluster: Cluster) => {
      const own = zonesOfCluster(cluster, byId(plan.sites, cluster.siteId));
      return own.length > 0 && own.every((zone) => zones.has(`${cluster.siteId} ${zone}`));
    };
    const gone =
      zones.size === 0
        ? []
        : plan.clusters.filter((each) => isGone(each) || areNodesGone(state.forwarding, each.id, null));
    const goneIds = new Set(gone.map(({ id }) => id));
    // A test that begins or ends in the zone itself asks for what is lost, and no plan keeps that.
    const asked = (yield* this.passing()).filter(
      ({ touched }) =>
        ([...touched.siteIds].some((id) => siteIds.has(id)) || [...names].some((name) => touched.names.has(name))) &&
        !touched.ends.some((id) => goneIds.has(id)) &&
        !touched.zones.some((zone) => zones.has(zone)),
    );
    const facts: DrillFact[] =
      gone.length === 0 ? [] : [{ fact: 'gone with it', clusters: gone.map(({ name }) => name) }];
    return yield* this.asked(drill, state, asked, facts);
  }

  /** Asks tests again while something is gone. */
  private *asked(
    drill: PlanDrill,
    state: IngressState,
    passing: readonly Passing[],
    facts: readonly DrillFact[],
  ): Steps<DrillOutcome | undefined> {
    const { plan } = this.evaluation;
    const all = (yield* this.passing()).length;
    if (all === 0) return undefined;
    const lost: TestResult[] = [];
    const held: TestResult[] = [];
    for (const [done, { test }] of passing.entries()) {
      if (done % STEP === 0) yield { what: 'a drill', done, of: passing.length };
      const { state: kept, verdict, description } = askTest(plan, state, test);
      if (kept === 'kept') held.push(test);
      else lost.push({ ...test, result: 'failed', asked: verdict, sentence: description });
    }
    return {
      drill,
      key: drillKey(drill),
      state: lost.length > 0 ? 'breaks' : 'holds',
      kept: 1 - lost.length / all,
      lost,
      held,
      clusters: [...new Set(lost.flatMap(({ clusterId }) => byId(plan.clusters, clusterId)?.name ?? []))],
      seconds: lost.length > 0 ? undefined : 0,
      facts: [...(lost.length > 0 ? [{ fact: 'tests', lost: lost.length, of: all } as const] : []), ...facts],
    };
  }

  /** Gateways, relays and rendezvous: as the drills of connections tell it. */
  private withoutGateway(drill: PlanDrill & { readonly kind: 'gateway lost' }): DrillOutcome | undefined {
    const { evaluation } = this;
    const { changes, reachedBefore, reachedAfter } = runDrill(
      { parts: evaluation.plan, connected: evaluation.ask(connected), matrix: evaluation.ask(setMatrix) },
      [drill.fault],
    );
    if (reachedBefore === 0) return undefined;
    const lost = reachedBefore - reachedAfter;
    const seconds = Math.max(0, ...changes.map((change) => change.seconds ?? 0));
    return {
      drill,
      key: drillKey(drill),
      state: lost > 0 ? 'breaks' : changes.length > 0 ? 'interrupted' : 'holds',
      kept: reachedAfter / reachedBefore,
      lost: [],
      held: [],
      clusters: [...new Set(changes.map(({ cluster }) => cluster.name))],
      seconds: lost > 0 ? undefined : seconds,
      facts: lost > 0 ? [{ fact: 'uses', lost, of: reachedBefore }] : [],
    };
  }
}
