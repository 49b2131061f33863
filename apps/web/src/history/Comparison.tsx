import type { PlanComparison } from '@wide-lattice/core/evaluation';
import type { DescribedFinding } from '@wide-lattice/core/findings';
import { PurposeTag, SeverityMark } from '../shared/Marks';
import { TableHead } from '../shared/TableHead';
import { More } from '../shared/More';

const SHOWN = 200;

/** The difference between two states of the plan: ranges, findings gained and lost, everything else. */
export function Comparison({ comparison }: { readonly comparison: PlanComparison }) {
  const { ranges, others, gained, lost } = comparison;
  if (ranges.length + others.length + gained.length + lost.length === 0)
    return <p className="quiet mt-3">No differences.</p>;
  return (
    <div className="mt-3 flex flex-col gap-3">
      <Findings title={`Findings gained: ${gained.length}`} findings={gained} />
      <Findings title={`Findings lost: ${lost.length}`} findings={lost} />
      {ranges.length > 0 && (
        <section aria-label="Ranges that differ">
          <h3 className="heading mb-1">Ranges: {ranges.length}</h3>
          <table className="w-full">
            <TableHead labels={['Range', 'First', 'Second']} />
            <tbody>
              {ranges.slice(0, SHOWN).map((range) => (
                <tr
                  key={`${range.clusterName} ${range.purpose} ${range.zone} ${range.before} ${range.after}`}
                  className="rule-b align-top"
                >
                  <th scope="row" className="py-1 text-left font-normal">
                    <span className="inline-flex items-center gap-1.5">
                      <PurposeTag purpose={range.purpose} /> {range.clusterName} {range.zone}
                    </span>
                    <span className="quiet block">{range.what}</span>
                  </th>
                  <td className="py-1 font-mono text-[0.92rem]">{range.before === '' ? 'none' : range.before}</td>
                  <td className="py-1 font-mono text-[0.92rem]">{range.after === '' ? 'none' : range.after}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <More all={ranges.length} shown={SHOWN} />
        </section>
      )}
      {others.length > 0 && (
        <section aria-label="Other differences">
          <h3 className="heading mb-1">Else: {others.length}</h3>
          <ul>
            {others.slice(0, SHOWN).map((line) => (
              <li key={line} className="rule-b py-0.5">
                {line}
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

function Findings({ title, findings }: { readonly title: string; readonly findings: readonly DescribedFinding[] }) {
  if (findings.length === 0) return null;
  return (
    <section aria-label={title}>
      <h3 className="heading mb-1">{title}</h3>
      <ul>
        {findings.slice(0, SHOWN).map((finding) => (
          <li key={finding.key} className="rule-b flex gap-2 py-0.5">
            <span className="w-20 shrink-0">
              <SeverityMark severity={finding.severity} />
            </span>
            {finding.title}
          </li>
        ))}
      </ul>
    </section>
  );
}
