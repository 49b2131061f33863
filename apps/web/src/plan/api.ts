import type { Scope } from '@wide-lattice/core/rehearsal';
import type { StandInReport, StandInWish } from '@wide-lattice/standins/choices';
import type { Clash, Operation, OperationProblem, Plan } from '@wide-lattice/core/plan';

/** A plan in the list of plans. */
export interface PlanSummary {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly changedAt: string;
}

/** A plan that was removed, and until when it can be restored. */
export interface RemovedPlan {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly removedAt: string;
  readonly keptUntil: string;
}

/** One line of the log of plans, which outlasts them. */
export interface PlanLogLine {
  readonly id: string;
  readonly planName: string;
  readonly event: 'created' | 'removed' | 'restored' | 'purged';
  readonly revision: number;
  readonly author: string;
  readonly at: string;
}

/** A plan at a revision. */
export interface StoredPlan {
  readonly revision: number;
  readonly plan: Plan;
}

/** One change in the history. */
export interface ChangeSummary {
  readonly revision: number;
  readonly label: string;
  readonly author: string;
  readonly clientId: string;
  readonly reverts: number | null;
  readonly operationCount: number;
  readonly createdAt: string;
}

/** One change with what it did and what takes it back. */
export interface Change extends ChangeSummary {
  readonly operations: readonly Operation[];
  readonly inverse: readonly Operation[];
}

/** A name for one revision. */
export interface PlanVersion {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly author: string;
  readonly createdAt: string;
}

/** A change on its way to the server. */
export interface ChangeRequest {
  readonly baseRevision: number;
  readonly label: string;
  readonly author: string;
  readonly clientId: string;
  readonly reverts?: number;
  /** Under this the change is stored once, however often it is sent. */
  readonly changeId: string;
  readonly operations: readonly Operation[];
}

/** What others did to the same fields. */
export interface TheirChange {
  readonly revision: number;
  readonly author: string;
  readonly clientId: string;
  readonly label: string;
  readonly operations: readonly Operation[];
}

/** An answer other than success, with what the server said. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    message: string,
    readonly body: {
      readonly currentRevision?: number;
      readonly theirs?: readonly TheirChange[];
      readonly clashes?: readonly Clash[];
      readonly problems?: readonly OperationProblem[];
      /** Whether the request was done nobody knows. */
      readonly isUnknown?: boolean;
    },
  ) {
    super(message);
    this.name = 'ApiError';
  }
}

/** An answer that takes longer than this does not come, in milliseconds. */
const PATIENCE_MS = 180_000;

async function answered(path: string, options?: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, { signal: AbortSignal.timeout(PATIENCE_MS), ...options });
  } catch (error) {
    const isLate = error instanceof DOMException && error.name === 'TimeoutError';
    const why = isLate
      ? `The server has not answered for ${PATIENCE_MS / 60_000} minutes.`
      : 'The server cannot be reached. Is it still running?';
    throw new ApiError(0, `${why} What you typed is kept here.`, { isUnknown: true });
  }
  if (response.ok) return response;
  const said = (await response.json().catch(() => ({}))) as ApiError['body'] & { message?: string };
  throw new ApiError(response.status, said.message ?? `The server answered ${response.status}.`, said);
}

async function request<T>(path: string, options?: RequestInit): Promise<T> {
  const response = await answered(path, options);
  return (await response.json().catch(() => ({}))) as T;
}

function post<T>(path: string, body: unknown): Promise<T> {
  return request<T>(path, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  });
}

/** The server's endpoints that the interface uses; all are documented at /api/docs. */
export const api = {
  plans: (offset: number) => request<PlanSummary[]>(`/plans?offset=${offset}`),
  duplicate: (id: string, name: string) => post<{ id: string }>(`/plans/${id}/duplicate`, { name }),
  remove: (id: string, author: string) =>
    request<unknown>(`/plans/${id}?author=${encodeURIComponent(author)}`, { method: 'DELETE' }),
  restore: (id: string, author: string) => post<unknown>(`/plans/${id}/restore`, { author }),
  removedPlans: () => request<RemovedPlan[]>('/plans/removed'),
  planLog: () => request<PlanLogLine[]>('/plans/log'),
  plan: (id: string) => request<StoredPlan>(`/plans/${id}`),
  /** The text of the stored plan, part by part as it comes. */
  planText: async function* (id: string): AsyncGenerator<string, void> {
    const { body } = await answered(`/plans/${id}`);
    if (body === null) return;
    const reader = body.getReader();
    const decoder = new TextDecoder();
    for (let part = await reader.read(); !part.done; part = await reader.read()) {
      yield decoder.decode(part.value, { stream: true });
      // Freed at once: otherwise a hundred megabytes of parts would stay until the next garbage collection.
      (part.value.buffer as { readonly transfer?: (bytes: number) => unknown }).transfer?.(0);
    }
    yield decoder.decode();
  },
  importFile: async (file: Blob) =>
    request<{ id: string }>('/plans/import', {
      method: 'POST',
      headers: { 'content-type': 'application/octet-stream', 'content-encoding': 'gzip' },
      body: await new Response(file.stream().pipeThrough(new CompressionStream('gzip'))).blob(),
    }),
  change: (id: string, change: ChangeRequest) =>
    post<{ revision: number; isMerged: boolean }>(`/plans/${id}/changes`, change),
  changesAfter: (id: string, revision: number) => request<Change[]>(`/plans/${id}/changes?after=${revision}`),
  history: (id: string, before?: number) =>
    request<ChangeSummary[]>(`/plans/${id}/history?limit=200${before === undefined ? '' : `&before=${before}`}`),
  /** One change without its operations; undefined when there is none of this revision. */
  summary: async (id: string, revision: number) =>
    (await request<ChangeSummary[]>(`/plans/${id}/history?limit=1&before=${revision + 1}`)).find(
      (change) => change.revision === revision,
    ),
  versions: (id: string) => request<PlanVersion[]>(`/plans/${id}/versions`),
  nameVersion: (id: string, name: string, author: string) =>
    post<PlanVersion>(`/plans/${id}/versions`, { name, author }),
  planAt: (id: string, revision: number) => request<StoredPlan>(`/plans/${id}/at/${revision}`),
  standIns: async (id: string) =>
    (await request<{ readonly running: StandInReport | null }>(`/plans/${id}/stand-ins`)).running,
  startStandIns: (id: string, wish: StandInWish) => post<StandInReport>(`/plans/${id}/stand-ins`, wish),
  stopStandIns: (id: string) => request<unknown>(`/plans/${id}/stand-ins`, { method: 'DELETE' }),
  stopPods: (id: string, workloadId: string, count: number) =>
    post<unknown>(`/plans/${id}/stand-ins/pods`, { workloadId, count }),
  stopAddress: (id: string, address: string, isStopped: boolean) =>
    post<unknown>(`/plans/${id}/stand-ins/addresses`, { address, isStopped }),
  /** The certificate of the authority of stand-ins, or a kubeconfig of one cluster: "kubeconfig/<cluster id>?namespace=shop". */
  standInFileUrl: (id: string, file: string) => `/api/plans/${id}/stand-ins/${file}`,
  /** Everything that builders of a scope need, as one zip. */
  handoverUrl: (id: string, scope: Scope) =>
    `/api/plans/${id}/export/handover.zip${scope.kind === 'plan' ? '' : `?${scope.kind}=${scope.id}`}`,
  exportUrl: (id: string, file: 'plan.json' | 'plan.yaml' | 'allocations.csv' | 'address-plan.pdf') =>
    `/api/plans/${id}/export/${file}`,
};
