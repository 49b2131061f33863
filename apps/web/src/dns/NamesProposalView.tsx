import { useState } from 'react';
import { toast } from 'sonner';
import { useCommit } from '../plan/useCommit';
import { useAnswer } from '../plan/useSlice';
import { Computing, Part } from '../shared/Halves';
import { OperationList } from '../shared/OperationList';
import { Tick } from '../shared/Tick';
import { ApplyButton } from '../shared/ApplyButton';
import { TriedPart } from '../shared/TriedPart';

/** Records, reverse records and certificates for all hosts, APIs and load balancers, as one difference. */
export function NamesProposalView() {
  const commit = useCommit();
  const [withReverse, setReverse] = useState(true);
  const [withCertificates, setCertificates] = useState(true);
  const [today] = useState(() => new Date().toISOString().slice(0, 10));
  const { slice: proposal, isFresh } = useAnswer('namesProposal', { withReverse, withCertificates, today });
  if (proposal === undefined) return <Computing />;
  const operations = proposal.parts.flatMap((part) => part.operations);
  const apply = async () => {
    const problem = await commit('Propose names and certificates', operations);
    if (problem === '') toast.success('Applied. Vantages show who gets which answer now.');
    else toast.error(problem);
  };
  return (
    <>
      <div className="rule-b flex items-center gap-4 px-4 py-2">
        <Tick isOn={withReverse} onTick={setReverse}>
          Reverse records
        </Tick>
        <Tick isOn={withCertificates} onTick={setCertificates}>
          Certificates
        </Tick>
        <ApplyButton rows={operations.length} isFresh={isFresh} onApply={() => void apply()} className="ml-auto" />
      </div>
      {proposal.parts.length === 0 && (
        <p className="quiet px-4 pt-3">Every host, API and load balancer that can have a name has one.</p>
      )}
      <div className="px-4 pb-2">
        <TriedPart operations={operations} proposing="names" />
      </div>
      {proposal.parts.map(({ title, operations: rows }) => (
        <Part key={title} title={`${title}: ${rows.length}`}>
          <OperationList operations={rows} whole={operations} />
        </Part>
      ))}
      {proposal.order.length > 0 && (
        <Part title="In this order">
          <ul className="list-disc pl-5">
            {proposal.order.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ul>
        </Part>
      )}
      {proposal.openSteps.length > 0 && (
        <Part title="Open steps">
          <ul className="list-disc pl-5">
            {proposal.openSteps.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ul>
        </Part>
      )}
    </>
  );
}
