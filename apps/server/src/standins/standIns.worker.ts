import { parentPort, workerData } from 'node:worker_threads';
import { StandInProblem, StandIns } from '@wide-lattice/standins';
import type { StandInReport, StandInWish } from '@wide-lattice/standins';
import { planIn } from '../work/planIn.js';

/** What the thread is asked while it runs, by name, and what it answers. */
export interface StandInWork {
  readonly report: { readonly asks: undefined; readonly gives: StandInReport };
  readonly follow: { readonly asks: Uint8Array; readonly gives: undefined };
  readonly stopPods: {
    readonly asks: { readonly workloadId: string; readonly count: number };
    readonly gives: undefined;
  };
  readonly stopAddress: {
    readonly asks: { readonly address: string; readonly isStopped: boolean };
    readonly gives: undefined;
  };
  readonly kubeconfig: {
    readonly asks: { readonly clusterId: string; readonly namespace: string };
    readonly gives: string | undefined;
  };
  readonly authority: { readonly asks: undefined; readonly gives: string };
}

/** What the thread is handed at its start. */
export interface StandInStart {
  readonly gzipped: Uint8Array;
  readonly wish: StandInWish;
}

/** What is sent to the thread. */
export interface StandInCall {
  readonly number: number;
  readonly work: keyof StandInWork;
  readonly asked: unknown;
}

/** What comes back: number 0 tells how the start went. */
export interface StandInAnswer {
  readonly number: number;
  readonly value?: unknown;
  /** Why it could not be done, and what helps; without a code it is a fault of the program. */
  readonly problem?: { readonly message: string; readonly code?: StandInProblem['code'] };
}

type Works = {
  readonly [W in keyof StandInWork]: (standIns: StandIns, asked: StandInWork[W]['asks']) => StandInWork[W]['gives'];
};

const works: Works = {
  report: (standIns) => standIns.report(),
  follow: (standIns, gzipped) => {
    standIns.follow(planIn(gzipped));
    return undefined;
  },
  stopPods: (standIns, { workloadId, count }) => {
    standIns.stopPods(workloadId, count);
    return undefined;
  },
  stopAddress: (standIns, { address, isStopped }) => {
    standIns.stopAddress(address, isStopped);
    return undefined;
  },
  kubeconfig: (standIns, { clusterId, namespace }) => standIns.kubeconfigOf(clusterId, namespace),
  authority: (standIns) => standIns.authorityPem,
};

const tell = (answer: StandInAnswer) => parentPort?.postMessage(answer);

function problemOf(error: unknown): StandInAnswer['problem'] {
  if (error instanceof StandInProblem) return { message: `${error.message} ${error.fix}`, code: error.code };
  return { message: error instanceof Error ? (error.stack ?? error.message) : String(error) };
}

const { gzipped, wish } = workerData as StandInStart;
try {
  const standIns = await StandIns.start(planIn(gzipped), wish);
  standIns.onceEnded(() => process.exit());
  parentPort?.on('message', ({ number, work, asked }: StandInCall) => {
    try {
      tell({ number, value: works[work](standIns, asked as never) });
    } catch (error) {
      tell({ number, problem: problemOf(error) });
    }
  });
  tell({ number: 0 });
} catch (error) {
  tell({ number: 0, problem: problemOf(error) });
}
