import type { Forwarding, Host } from '../forwarding/index.js';
import { Answers } from './answers.js';
import type { Judged } from './answers.js';
import type { Asking } from './asking.js';
import type { ChangedRules } from './changedRules.js';
import { Distinct } from './distinct.js';
import { machinesInUse, machinesOfClusters, Targets } from './matrixTargets.js';
import type { Moved } from './matrixTargets.js';
import { severalOf } from './several.js';
import type { Several, SeveralTargets } from './several.js';
import type { Source } from './sources.js';

/** What one source reaches of many targets. */
export interface Sum {
  readonly passes: number;
  /** How many of those that pass lie in a prefix; counted once for all clusters that hide the same range. */
  readonly passesWithin: Map<string, number>;
  /** Two groups that fail, since one of them may hold nothing but the asking cluster's own machine. */
  readonly failing: readonly { readonly judged: Judged; readonly hosts: readonly Host[] }[];
}

/** What targets answer, group by group: those that forwarding cannot tell apart are asked once, by sources that are alike. */
export class GroupAnswers {
  private readonly answers = new Map<Several, Answers>();
  private readonly targets = new Map<Several, Targets>();
  private readonly moved = new Map<Several, readonly Moved[]>();
  private readonly sums = new Map<string, Sum>();
  /** By the number of a source, whether it is answered by everything as in the state before. */
  private readonly settled: (boolean | undefined)[] = [];
  private told: Distinct | undefined;

  constructor(
    private readonly forwarding: Forwarding,
    private readonly asking: Asking,
  ) {}

  /** Takes over what an edit of rules leaves; false where nothing of it can be. */
  follow(before: GroupAnswers, changed: ChangedRules): boolean {
    if (before.told?.knows(changed.prefixes) !== true) return false;
    this.told = new Distinct(this.forwarding, before.told);
    for (const [kind, answers] of before.answers) this.answers.set(kind, new Answers(answers, changed.lists));
    for (const [kind, last] of before.targets) {
      const { targets, moved } = last.followed(changed.attached, this.told);
      this.targets.set(kind, targets);
      this.moved.set(kind, moved);
    }
    return true;
  }

  /** The machines that are in another group than in the state before. */
  get movedHosts(): readonly Host[] {
    return [...this.moved.values()].flatMap((moved) => moved.map(({ host }) => host));
  }

  get distinct(): Distinct {
    this.told ??= new Distinct(this.forwarding);
    return this.told;
  }

  /** Whether a source is answered as in the state before by all targets, also by those that moved to another group. */
  isSettled(source: Source | undefined): boolean {
    if (source === undefined) return true;
    return (this.settled[source.number] ??= Object.values(severalOf).every((several) =>
      this.isSettledOn(source, several),
    ));
  }

  private isSettledOn(source: Source, { kind, port }: SeveralTargets): boolean {
    const moved = this.moved.get(kind);
    const answers = this.answersOf(kind);
    const targets = this.targetsOf(kind);
    const from = source.number;
    return (
      answers.forgotten(from).every((group) => {
        const target = targets
          .group(group)
          ?.hosts.find(({ cluster }) => cluster === undefined || cluster !== source.host.cluster);
        if (target === undefined) return false;
        answers.add(group, from, this.asking.group(source.host, target, port));
        return answers.passes(group, from) === answers.passedBefore(group, from);
      }) &&
      moved?.every(({ host, from: last, to }) => {
        if (answers.of(to, from) === undefined)
          answers.add(
            to,
            from,
            this.asking.movedTo(answers.of(last, from), host) ?? this.asking.group(source.host, host, port),
          );
        return answers.passedBefore(last, from) === answers.passes(to, from);
      }) === true
    );
  }

  /** What a source reaches of all targets of a kind, group by group; asked once for all sources that are alike. */
  sumOf(source: Source, kind: Several, port: number, targets: Targets, own: Host | undefined): Sum {
    const key = `${source.number} ${kind}`;
    const known = this.sums.get(key);
    if (known !== undefined) return known;
    const answers = this.answersOf(kind);
    let passes = 0;
    let isWhole = true;
    const failing: Sum['failing'][number][] = [];
    for (const { number, hosts } of targets.groups) {
      // Any of them that is not the asking cluster's own stands for all.
      const target = answers.of(number, source.number) === undefined ? hosts.find((host) => host !== own) : undefined;
      if (target !== undefined) answers.add(number, source.number, this.asking.group(source.host, target, port));
      const judged = answers.of(number, source.number);
      if (judged === undefined) isWhole = false;
      else if (judged.verdict === 'pass') passes += hosts.length;
      else if (failing.length < 2) failing.push({ judged, hosts });
    }
    const sum = { passes, failing, passesWithin: new Map<string, number>() };
    // Of a group that is the asking cluster alone nothing is known yet: clusters like it may ask.
    if (isWhole) this.sums.set(key, sum);
    return sum;
  }

  /** What is known of the groups of a kind. */
  answersOf(kind: Several): Answers {
    const known = this.answers.get(kind) ?? new Answers();
    this.answers.set(kind, known);
    return known;
  }

  /** The machines of a kind, in their groups. */
  targetsOf(kind: Several): Targets {
    const known = this.targets.get(kind);
    if (known !== undefined) return known;
    const hosts = kind === 'in use' ? machinesInUse(this.forwarding) : machinesOfClusters(this.forwarding, kind);
    const targets = Targets.of(hosts, this.distinct);
    this.targets.set(kind, targets);
    return targets;
  }
}

/** How many targets within a range a source would reach; counted once. */
export function passingWithin(
  { passesWithin }: Sum,
  name: string,
  within: readonly { readonly number: number; readonly count: number }[],
  reaches: (number: number) => boolean,
): number {
  const known = passesWithin.get(name);
  if (known !== undefined) return known;
  const counted = within.reduce((passing, { number, count }) => passing + (reaches(number) ? count : 0), 0);
  passesWithin.set(name, counted);
  return counted;
}
