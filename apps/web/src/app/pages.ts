import type { ComponentType } from 'react';

export type Page = () => Promise<{ readonly default: ComponentType }>;

export const plansPage: Page = async () => ({ default: (await import('../plans/PlansPage')).PlansPage });

/** The pages of a plan by their address, each fetched when it is first shown. */
export const pages: Readonly<Record<string, Page>> = {
  board: async () => ({ default: (await import('../board/BoardPage')).BoardPage }),
  ground: async () => ({ default: (await import('../ground/GroundPage')).GroundPage }),
  demand: async () => ({ default: (await import('../demand/DemandPage')).DemandPage }),
  'clusters/:clusterId': async () => ({ default: (await import('../demand/ClusterPage')).ClusterPage }),
  ranges: async () => ({ default: (await import('../ranges/RangesPage')).RangesPage }),
  'pod-network': async () => ({ default: (await import('../podnetwork/PodNetworkPage')).PodNetworkPage }),
  egress: async () => ({ default: (await import('../egress/EgressPage')).EgressPage }),
  ingress: async () => ({ default: (await import('../ingress/IngressPage')).IngressPage }),
  dns: async () => ({ default: (await import('../dns/DnsPage')).DnsPage }),
  'cross-cluster': async () => ({ default: (await import('../crosscluster/CrossPage')).CrossPage }),
  rehearsal: async () => ({ default: (await import('../rehearsal/RehearsalPage')).RehearsalPage }),
  handover: async () => ({ default: (await import('../handover/HandoverPage')).HandoverPage }),
  ledger: async () => ({ default: (await import('../podnetwork/LedgerPage')).LedgerPage }),
  print: async () => ({ default: (await import('../handover/PrintPage')).PrintPage }),
  findings: async () => ({ default: (await import('../findings/FindingsPage')).FindingsPage }),
  history: async () => ({ default: (await import('../history/HistoryPage')).HistoryPage }),
};

const AFTER_MS = 5000;

/** Fetches every page once the one asked for has settled, one at a time, so that a plan that is open can be walked through while the server is away. */
export function fetchTheRest(): () => void {
  let isOver = false;
  const timer = setTimeout(() => {
    void (async () => {
      for (const page of Object.values(pages)) {
        if (isOver) return;
        // What cannot be fetched now is asked for, and told, when it is to be shown.
        await page().catch(() => undefined);
      }
    })();
  }, AFTER_MS);
  return () => {
    isOver = true;
    clearTimeout(timer);
  };
}
