import { Ban, Check, CircleDashed, Unplug } from 'lucide-react';
import { Link } from 'react-router';
import { usePlanPath } from '../plan/usePlanPath';
import { Part } from '../shared/Halves';
import { TableHead } from '../shared/TableHead';
import type { ShownMember, ShownStage } from '../worker/slices/question';

const marks = {
  ok: { Icon: Check, colour: 'text-success' },
  refused: { Icon: Ban, colour: 'text-warning' },
  broken: { Icon: Unplug, colour: 'text-error' },
  open: { Icon: CircleDashed, colour: 'text-info' },
} as const;

const headings: Readonly<Record<ShownStage['about'], string>> = {
  name: 'Name',
  query: 'Query',
  listener: 'Listener',
  certificate: 'Certificate',
  route: 'Route',
  source: 'Source',
  limit: 'Rate limit',
  service: 'Service',
  members: 'Members',
  'open step': 'Open step',
};

interface StagesProps {
  readonly stages: readonly ShownStage[];
  readonly members: readonly ShownMember[];
}

/** What is decided on the way of a request: each decision with those that lost, and who answers in the end. */
export function StagesPart({ stages, members }: StagesProps) {
  if (stages.length === 0 && members.length === 0) return null;
  return (
    <Part title="How it is answered">
      <ol className="grid grid-cols-[auto_auto_minmax(0,1fr)] gap-x-2 gap-y-1">
        {stages.map((stage, i) => (
          <Decision key={i} stage={stage} />
        ))}
      </ol>
      {members.length > 0 && <Members members={members} />}
    </Part>
  );
}

function Decision({ stage: { about, outcome, description, path, lost } }: { readonly stage: ShownStage }) {
  const to = usePlanPath();
  const { Icon, colour } = marks[outcome];
  return (
    <li className="contents">
      <Icon size={14} aria-hidden className={`mt-1 ${colour}`} />
      <span className="quiet">{headings[about]}</span>
      <div>
        {path === undefined ? (
          description
        ) : (
          <Link className="hover:underline" to={to(path)}>
            {description}
          </Link>
        )}
        {lost.length > 0 && (
          <ul className="quiet mt-0.5">
            {lost.map((each, i) => (
              <li key={i}>
                <Link className="hover:underline" to={to(each.path)}>
                  {each.label}
                </Link>{' '}
                {each.isMatch ? 'matches, too, and is not taken:' : 'does not match:'} {each.why}
              </li>
            ))}
          </ul>
        )}
      </div>
    </li>
  );
}

function Members({ members }: { readonly members: readonly ShownMember[] }) {
  const to = usePlanPath();
  return (
    <table className="mt-2 w-full" aria-label="Endpoints">
      <TableHead labels={['Answered by', 'Service', 'Port', 'Share']} rightFrom={2} />
      <tbody>
        {members.map(({ name, path, service, port, share }) => (
          <tr key={`${service} ${name}`} className="rule-b">
            <th scope="row" className="py-0.5 pr-2 text-left font-normal">
              <Link className="hover:underline" to={to(path)}>
                {name}
              </Link>
            </th>
            <td className="pr-2">{service}</td>
            <td className="pl-3 text-right">{port}</td>
            <td className="pl-3 text-right">{share.toLocaleString('en-US', { maximumFractionDigits: 1 })} %</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
