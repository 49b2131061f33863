import { byId } from '../plan/index.js';
import type { BuildStep, Plan } from '../plan/index.js';

/** How long one of a step takes, and how many of them a site carries out at the same time. */
export interface StepTime {
  /** Seconds. */
  readonly seconds: number;
  readonly atOnce: number;
}

const time = (seconds: number, atOnce: number): StepTime => ({ seconds, atOnce });

/** Usual times: invented for rehearsals, to be replaced by what a provider was measured to take. */
export const usualTimes: Readonly<Record<BuildStep, StepTime>> = {
  'account check': time(60, 10),
  network: time(30, 4),
  'address block': time(10, 4),
  subnet: time(15, 8),
  link: time(300, 2),
  attachment: time(90, 4),
  'route table': time(10, 8),
  route: time(5, 8),
  'NAT device': time(120, 4),
  firewall: time(900, 2),
  filter: time(5, 8),
  rule: time(2, 8),
  'private endpoint': time(90, 4),
  bastion: time(120, 4),
  'virtual address': time(10, 8),
  'hosted control plane': time(600, 4),
  'control node': time(420, 4),
  'node machine': time(150, 20),
  'node registration': time(45, 50),
  'pod network': time(90, 10),
  'node readiness': time(20, 50),
  'cluster DNS': time(30, 10),
  object: time(5, 50),
  pods: time(40, 50),
  'balancer address': time(10, 8),
  'load balancer': time(180, 4),
  listener: time(20, 8),
  backend: time(15, 8),
  'health check': time(30, 50),
  zone: time(30, 4),
  record: time(10, 8),
  validation: time(60, 8),
  certificate: time(120, 4),
  resolver: time(120, 2),
  connection: time(10, 4),
  member: time(60, 4),
  tunnels: time(45, 8),
};

/** The time of each step with a profile: its own row, the row of every profile, or the usual time. */
export class Times {
  private readonly own = new Map<string, StepTime>();

  constructor(private readonly plan: Pick<Plan, 'buildTimes' | 'sites'>) {
    for (const { step, profileId, seconds, atOnce } of plan.buildTimes)
      this.own.set(`${profileId ?? ''} ${step}`, { seconds, atOnce });
  }

  /** What a step takes at a site; empty for what is at none. */
  at(siteId: string, step: BuildStep): StepTime {
    const profileId = byId(this.plan.sites, siteId)?.profileId ?? '';
    return this.own.get(`${profileId} ${step}`) ?? this.own.get(` ${step}`) ?? usualTimes[step];
  }
}
