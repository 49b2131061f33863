import type { StandInReport } from '@wide-lattice/standins/choices';
import { grouped } from '@wide-lattice/core/plan';
import { formatCount } from '@wide-lattice/core/working';
import { Copy, Download, Square } from 'lucide-react';
import { api } from '../plan/api';
import { usePlan } from '../plan/PlanContext';
import { Part } from '../shared/Halves';
import { copyText } from '../shared/copyText';
import { TableHead } from '../shared/TableHead';
import { StandInMembers } from './StandInMembers';

interface StandInsRunningProps {
  readonly report: StandInReport;
  readonly isBusy: boolean;
  readonly onAct: (run: () => Promise<unknown>) => void;
}

/** What runs: where it answers with a command to try, pods to stop, and what was asked last. */
export function StandInsRunning({ report, isBusy, onAct }: StandInsRunningProps) {
  const { planId } = usePlan().session;
  const { address, endsAt, isOutdated, asked } = report;
  return (
    <>
      <Part
        title="Stand-ins"
        aside={
          <span className="flex gap-2">
            <a className="btn btn-xs btn-outline" href={api.standInFileUrl(planId, 'authority.pem')} download>
              <Download size={13} aria-hidden />
              Authority certificate
            </a>
            <button
              type="button"
              className="btn btn-xs btn-outline"
              disabled={isBusy}
              onClick={() => {
                onAct(() => api.stopStandIns(planId));
              }}
            >
              <Square size={12} aria-hidden />
              Stop
            </button>
          </span>
        }
      >
        <p className="text-[15px]">
          <strong className="text-success">Answering</strong> at {address} until {hour.format(endsAt)};{' '}
          {formatCount(asked, 'request')} so far.
        </p>
        {isOutdated && (
          <p role="status" className="text-warning mt-1">
            The listeners of the plan, or the ways to them, have changed. Stop and start again to open ports for them.
          </p>
        )}
      </Part>
      <Names report={report} />
      <Doors report={report} />
      <Apis report={report} />
      <StandInMembers report={report} isBusy={isBusy} onAct={onAct} />
      <Recent report={report} />
    </>
  );
}

type Shown = Pick<StandInsRunningProps, 'report'>;

function Names({ report: { names, address, doors } }: Shown) {
  if (names.length === 0) return null;
  return (
    <Part title="Name servers">
      <table className="w-full" aria-label="Name servers">
        <TableHead labels={['Vantage', 'Port', '']} />
        <tbody>
          {names.map(({ vantage, port }) => {
            const host = doors.find((each) => each.vantage === vantage && each.host !== '')?.host ?? '';
            return (
              <tr key={port} className="rule-b">
                <th scope="row" className="py-0.5 pr-3 text-left font-normal">
                  {vantage}
                </th>
                <td className="pr-3 tabular-nums">{port}</td>
                <td className="text-right">
                  <CopyButton label="dig" text={`dig @${address} -p ${port} ${host}`.trim()} />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </Part>
  );
}

function Doors({ report: { names, doors, address } }: Shown) {
  if (names.length === 0) return null;
  const open = doors.filter(({ localPort }) => localPort !== null);
  const closed = doors.filter(({ localPort }) => localPort === null);
  if (doors.length === 0)
    return (
      <Part title="Load balancers">
        <p className="quiet">The plan has no load balancer with an address and a listener yet.</p>
      </Part>
    );
  return (
    <Part title="Load balancers">
      <table className="w-full" aria-label="Load balancers">
        <TableHead labels={['Load balancer', 'Planned address', 'Port', '']} />
        {[...new Set(open.map(({ vantage }) => vantage))].map((from) => (
          <tbody key={from}>
            <tr>
              <th scope="rowgroup" colSpan={4} className="quiet pt-1.5 text-left font-normal">
                from {from}
              </th>
            </tr>
            {open
              .filter(({ vantage }) => vantage === from)
              .map((each) => (
                <DoorRow key={each.localPort} door={each} address={address} />
              ))}
          </tbody>
        ))}
      </table>
      {closed.length > 0 && (
        <details className="mt-2">
          <summary className="cursor-pointer">
            {formatCount(closed.length, 'listener is not reached', 'listeners are not reached')} from there
          </summary>
          <ul className="mt-1">
            {closed.map(({ vantage, balancer, port, why }) => (
              <li key={`${vantage} ${balancer} ${port}`} className="rule-b py-1">
                {balancer} {port} from {vantage}: <span className="quiet">{why}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </Part>
  );
}

type Door = StandInReport['doors'][number];

function DoorRow({ door, address }: { readonly door: Door; readonly address: string }) {
  return (
    <tr className="rule-b">
      <th scope="row" className="py-0.5 pr-3 text-left font-normal">
        {door.balancer}
      </th>
      <td className="pr-3 tabular-nums">
        {door.protocol} {door.address}:{door.port}
      </td>
      <td className="pr-3 tabular-nums">{door.localPort}</td>
      <td className="text-right">
        <CopyButton label="curl" text={curlOf(address, door)} />
      </td>
    </tr>
  );
}

/** Ports at which clients speak TLS where the listener passes on whatever comes: common practice. */
const SECURE_PORTS: ReadonlySet<number> = new Set([443, 8443]);

/** A command that asks a load balancer as the plan’s clients would: by its host, at the port that stands for it. */
function curlOf(address: string, { host: named, address: own, protocol, port, localPort }: Door): string {
  const isSecure = protocol === 'https' || protocol === 'tls' || (protocol === 'tcp' && SECURE_PORTS.has(port));
  const host = named === '' ? own : named;
  const trust = isSecure ? ' --cacert stand-ins.pem' : '';
  const url = `${isSecure ? 'https' : 'http'}://${host}${port === (isSecure ? 443 : 80) ? '' : `:${port}`}/`;
  return `curl${trust} --connect-to ${host}:${port}:${address}:${localPort ?? ''} ${url}`;
}

function Apis({ report: { apis, address } }: Shown) {
  const { plan, session } = usePlan();
  const { planId } = session;
  if (apis.length === 0) return null;
  return (
    <Part title="Cluster APIs">
      <table className="w-full" aria-label="Cluster APIs">
        <TableHead labels={['Cluster', 'Server', 'Kubeconfig']} />
        <tbody>
          {apis.map(({ clusterId, cluster, port }) => {
            const own = grouped(plan.workloads, 'clusterId').get(clusterId) ?? [];
            const namespaces = new Set(own.map(({ namespace }) => namespace));
            return (
              <tr key={clusterId} className="rule-b align-top">
                <th scope="row" className="py-0.5 pr-3 text-left font-normal">
                  {cluster}
                </th>
                <td className="pr-3 tabular-nums">
                  https://{address}:{port}
                </td>
                <td>
                  {['', ...[...namespaces].sort()].map((namespace) => (
                    <a
                      key={namespace}
                      className="link link-hover mr-3 inline-flex items-center gap-1"
                      href={api.standInFileUrl(
                        planId,
                        `kubeconfig/${clusterId}${namespace === '' ? '' : `?namespace=${namespace}`}`,
                      )}
                      download
                    >
                      <Download size={12} aria-hidden />
                      {namespace === '' ? 'read everything' : `read ${namespace}`}
                    </a>
                  ))}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </Part>
  );
}

function Recent({ report: { log } }: Shown) {
  return (
    <Part title="Recent requests">
      {log.length === 0 ? (
        <p className="quiet">No requests yet. Copy one of the commands above into a terminal.</p>
      ) : (
        <table className="w-full" aria-label="Recent requests">
          <tbody>
            {log.map(({ number, at, from, asked, answer, why }) => (
              <tr key={number} className="rule-b align-top">
                <td className="quiet py-0.5 pr-3 tabular-nums">{second.format(at)}</td>
                <td className="pr-3">
                  <span className="break-all">{asked}</span> <span className="quiet">from {from}</span>
                  <div className="quiet text-xs">{why}</div>
                </td>
                <td className="text-right whitespace-nowrap">{answer}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Part>
  );
}

const hour = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
const second = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', second: '2-digit' });

function CopyButton({ label, text }: { readonly label: string; readonly text: string }) {
  return (
    <button
      type="button"
      className="btn btn-xs btn-ghost"
      title={text}
      aria-label={`Copy ${text}`}
      onClick={() => {
        copyText(text, 'The command is on the clipboard.');
      }}
    >
      <Copy size={12} aria-hidden />
      {label}
    </button>
  );
}
