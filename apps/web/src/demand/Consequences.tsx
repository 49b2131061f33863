import { formatNumber } from '@wide-lattice/core/working';
import { formatMoney } from '@wide-lattice/core/money';
import { FigureButton } from '../shared/FigureButton';
import { FindingItem } from '../findings/FindingItem';
import { Part } from '../shared/Halves';
import { usePlan } from '../plan/PlanContext';
import type { ClusterSheet } from '../worker/slices/clusterSheet';
import { LimitList } from './LimitList';
import { LimitsChart } from './LimitsChart';
import { TableHead } from '../shared/TableHead';

/** What follows from a cluster's decisions: limits, sizes, cost, findings, each with its working. */
export function Consequences({ sheet, isDraft = false }: { readonly sheet: ClusterSheet; readonly isDraft?: boolean }) {
  const stopping = sheet.problems.filter(({ isStopping }) => isStopping);
  return (
    <>
      {stopping.length > 0 && (
        <div role="alert" className="bg-error text-error-content px-4 py-2">
          {stopping.map(({ message, fix }) => (
            <p key={message}>
              <strong>Cannot be computed because</strong> {message}. {fix}
            </p>
          ))}
          <p className="text-xs">The closest feasible value is used below.</p>
        </div>
      )}
      <Part title="What runs out first">
        {sheet.limits.length === 0 ? (
          <p className="quiet">Nothing is allocated yet, so nothing limits growth.</p>
        ) : (
          <LimitList sheet={sheet} />
        )}
        <LimitsChart sheet={sheet} />
      </Part>
      <Sizes sheet={sheet} />
      <Costs sheet={sheet} />
      <Part title={`Findings: ${sheet.findings.length}`}>
        {sheet.findings.length === 0 && <p className="quiet">Nothing is wrong here.</p>}
        {sheet.findings.map((finding) => (
          <FindingItem key={finding.key} finding={finding} canFix={!isDraft} />
        ))}
      </Part>
    </>
  );
}

function Sizes({ sheet }: { readonly sheet: ClusterSheet }) {
  return (
    <Part title="Sizes">
      <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-0.5">
        <Row label="Worker nodes, now to horizon">
          {formatNumber(sheet.nodesNow)} to {formatNumber(sheet.nodesHorizon)}
        </Row>
        {sheet.figures.map(({ label, figure }) => (
          <Row key={label} label={label}>
            <FigureButton figure={figure}>
              {figure.unit === 'bits' ? `/${figure.value}` : `${formatNumber(figure.value)} ${figure.unit}`}
            </FigureButton>
          </Row>
        ))}
        {sheet.services.map((service) => (
          <div key={service.range} className="contents">
            <Row label="Services it holds">
              <FigureButton figure={service.usable}>{formatNumber(service.usable.value)}</FigureButton>
            </Row>
            <Row label="Static band">
              {service.staticSize === undefined ? (
                service.staticBand
              ) : (
                <FigureButton figure={service.staticSize}>{service.staticBand}</FigureButton>
              )}
            </Row>
            <Row label="API server">{service.apiServer}</Row>
            <Row label="Cluster DNS">{service.clusterDns}</Row>
          </div>
        ))}
      </dl>
    </Part>
  );
}

/** What the cluster costs per month, now and at the horizon. */
function Costs({ sheet }: { readonly sheet: ClusterSheet }) {
  const { currency } = usePlan().plan.settings;
  const isKnown = sheet.costs.some(({ cannot }) => cannot === '');
  // What cannot be computed comes on top.
  const least = sheet.costs.some(({ cannot }) => cannot !== '') ? 'at least ' : '';
  const amount = `${least}${formatMoney(sheet.costNow)} to ${formatMoney(sheet.costHorizon, currency)}`;
  return (
    <Part title={`Cost per month: ${isKnown ? amount : 'not known'}`}>
      <table className="w-full" aria-label="Cost per month">
        <TableHead labels={['Item', 'Now', 'At the horizon']} rightFrom={1} />
        <tbody>
          {sheet.costs.map(({ item, now, horizon, cannot }) => (
            <tr key={item}>
              <th scope="row" className="py-0.5 text-left font-normal">
                {item}
              </th>
              {cannot === '' ? (
                [now, horizon].map((figure, i) => (
                  <td key={i} className="text-right font-mono text-[0.92rem]">
                    {figure === undefined ? (
                      <span className="quiet">none</span>
                    ) : (
                      <FigureButton figure={figure}>{formatMoney(figure.value)}</FigureButton>
                    )}
                  </td>
                ))
              ) : (
                <td colSpan={2} className="text-warning text-right">
                  cannot be computed because {cannot}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </Part>
  );
}

function Row({ label, children }: { readonly label: string; readonly children: React.ReactNode }) {
  return (
    <>
      <dt className="quiet">{label}</dt>
      <dd className="text-right font-mono text-[0.92rem]">{children}</dd>
    </>
  );
}
