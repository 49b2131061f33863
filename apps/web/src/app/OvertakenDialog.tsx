import { toast } from 'sonner';
import { usePlan } from '../plan/PlanContext';
import type { Overtaken } from '../plan/planSession';
import { tellOutcome } from '../plan/useCommit';
import { Modal } from '../shared/Modal';
import { OperationList } from '../shared/OperationList';

/** An edit that met somebody else's: both sides, and the choice between them. Nothing is lost until one is made. */
export function OvertakenDialog({ overtaken }: { readonly overtaken: Overtaken }) {
  const { session } = usePlan();
  const insist = async () => {
    const problem = tellOutcome(await session.insist());
    if (problem !== '') toast.error(problem);
  };
  return (
    <Modal
      title="Somebody else changed the same"
      description="Your edit is not saved yet. Choose which side stands."
      onClose={() => session.yieldToTheirs()}
      isWide
    >
      <div className="grid grid-cols-2 gap-6">
        <section aria-label="Yours">
          <h3 className="heading mb-1">Yours: {overtaken.label}</h3>
          <OperationList operations={overtaken.operations} />
        </section>
        <section aria-label="Theirs">
          {overtaken.theirs.map((change) => (
            <div key={change.revision} className="mb-3">
              <h3 className="heading mb-1">
                {change.author}: {change.label}
              </h3>
              <OperationList operations={change.operations} />
            </div>
          ))}
        </section>
      </div>
      <div className="mt-4 flex justify-end gap-2">
        <button type="button" className="btn btn-sm btn-outline" onClick={() => session.yieldToTheirs()}>
          Keep theirs
        </button>
        <button type="button" className="btn btn-sm btn-primary" onClick={() => void insist()}>
          Save mine on top
        </button>
      </div>
    </Modal>
  );
}
