import { FigureButton } from '../shared/FigureButton';
import { FindingItem } from '../findings/FindingItem';
import { Part } from '../shared/Halves';
import { LimitsChart } from './LimitsChart';
import { sayMonth } from '../shared/sayMonth';
import type { ClusterSheet } from '../worker/slices/clusterSheet';

/** What follows from a cluster's decisions: sizes, limits, findings, each with its working. */
export function Consequences({ sheet, isDraft = false }: { readonly sheet: ClusterSheet; readonly isDraft?: boolean }) {
  return (
    <>
      <Part title="What runs out first">
        {sheet.limits.length === 0 ? (
          <p className="quiet">Nothing is allocated yet, so nothing limits growth.</p>
        ) : (
          <table className="w-full">
            <thead>
              <tr className="quiet text-left">
                <th className="font-normal">Limit</th>
                <th className="text-right font-normal">Nodes possible</th>
                <th className="text-right font-normal">Passed in</th>
              </tr>
            </thead>
            <tbody>
              {sheet.limits.map(({ name, nodes, month }) => {
                const isOver = sheet.cluster.nodesHorizon > nodes.value;
                return (
                  <tr key={name} className={isOver ? 'text-error font-semibold' : ''}>
                    <th scope="row" className="py-0.5 text-left font-normal">
                      {name}
                    </th>
                    <td className="text-right">
                      <FigureButton figure={nodes}>{nodes.value.toLocaleString('en-US')}</FigureButton>
                    </td>
                    <td className="text-right">
                      <FigureButton figure={month}>{sayMonth(month.value)}</FigureButton>
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
        )}
        <LimitsChart sheet={sheet} />
      </Part>
      <Part title="Sizes">
        <dl className="grid grid-cols-[auto_1fr] gap-x-4 gap-y-0.5">
          {sheet.figures.map(({ label, figure }) => (
            <Row key={label} label={label}>
              <FigureButton figure={figure}>
                {figure.unit === 'bits' ? `/${figure.value}` : `${figure.value.toLocaleString('en-US')} ${figure.unit}`}
              </FigureButton>
            </Row>
          ))}
          {sheet.services.map((service) => (
            <div key={service.range} className="contents">
              <Row label="Services it holds">
                <FigureButton figure={service.usable}>{service.usable.value.toLocaleString('en-US')}</FigureButton>
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
      <Part title={`Findings: ${sheet.findings.length}`}>
        {sheet.findings.length === 0 && <p className="quiet">Nothing is wrong here.</p>}
        {sheet.findings.map((finding) => (
          <FindingItem key={finding.key} finding={finding} canFix={!isDraft} />
        ))}
      </Part>
    </>
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
