import { createBrowserRouter, Navigate } from 'react-router';
import { BoardPage } from '../board/BoardPage';
import { ClusterPage } from '../demand/ClusterPage';
import { DemandPage } from '../demand/DemandPage';
import { EgressPage } from '../egress/EgressPage';
import { CrossPage } from '../crosscluster/CrossPage';
import { DnsPage } from '../dns/DnsPage';
import { IngressPage } from '../ingress/IngressPage';
import { FindingsPage } from '../findings/FindingsPage';
import { GroundPage } from '../ground/GroundPage';
import { HandoverPage } from '../handover/HandoverPage';
import { HistoryPage } from '../history/HistoryPage';
import { LedgerPage } from '../podnetwork/LedgerPage';
import { PodNetworkPage } from '../podnetwork/PodNetworkPage';
import { PrintPage } from '../handover/PrintPage';
import { PlansPage } from '../plans/PlansPage';
import { RangesPage } from '../ranges/RangesPage';
import { Frame } from './Frame';
import { NotFound } from './NotFound';

/** Every address of the interface; what is shown is in the address, so a link reopens it. */
export const router = createBrowserRouter([
  { path: '/', element: <PlansPage />, errorElement: <NotFound /> },
  {
    path: '/plans/:planId',
    element: <Frame />,
    errorElement: <NotFound />,
    children: [
      { index: true, element: <Navigate to="board" replace /> },
      { path: 'board', element: <BoardPage /> },
      { path: 'ground', element: <GroundPage /> },
      { path: 'demand', element: <DemandPage /> },
      { path: 'clusters/:clusterId', element: <ClusterPage /> },
      { path: 'ranges', element: <RangesPage /> },
      { path: 'pod-network', element: <PodNetworkPage /> },
      { path: 'egress', element: <EgressPage /> },
      { path: 'ingress', element: <IngressPage /> },
      { path: 'dns', element: <DnsPage /> },
      { path: 'cross-cluster', element: <CrossPage /> },
      { path: 'handover', element: <HandoverPage /> },
      { path: 'ledger', element: <LedgerPage /> },
      { path: 'print', element: <PrintPage /> },
      { path: 'findings', element: <FindingsPage /> },
      { path: 'history', element: <HistoryPage /> },
    ],
  },
  { path: '*', element: <NotFound /> },
]);
