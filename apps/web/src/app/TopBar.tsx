import { MessageCircleQuestion, Moon, Redo2, Search, Sun, Undo2, UserRound, WifiOff } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { authorName, clientId, setAuthorName } from '../plan/identity';
import { usePlan } from '../plan/PlanContext';
import { rootOf, undoState } from '../plan/undoStack';
import { tellOutcome } from '../plan/useCommit';
import { useSlice } from '../plan/useSlice';
import { SeverityMark } from '../shared/Marks';
import { Modal } from '../shared/Modal';
import { QuickFind } from './QuickFind';
import { chooseTheme, currentTheme } from './theme';

/** The thin bar: mark, plan, quick find, undo and redo, findings, theme, person. */
export function TopBar() {
  const { plan, revision, session, history, isConnected } = usePlan();
  const [isFinding, setFinding] = useState(false);
  const [isNaming, setNaming] = useState(false);
  const [theme, setTheme] = useState(currentTheme);
  const counts = useSlice('findingCounts');
  const { undo, redo } = undoState(history, clientId());
  const step = async (what: 'undo' | 'redo') => {
    const done = await session[what]();
    if (done === undefined) return;
    const problem = tellOutcome(done.outcome);
    if (problem === '') toast.success(`${what === 'undo' ? 'Undone' : 'Redone'}: ${done.label}`);
    else toast.error(problem);
  };
  const labelOf = (change: typeof undo) => (change === undefined ? '' : rootOf(change, history).change.label);
  const navigate = useNavigate();
  // The question bar of the stop that is open, or that of Egress.
  const { pathname, search } = useLocation();
  const ask = () => {
    const stop = ['ingress', 'dns'].find((each) => pathname.endsWith(`/${each}`));
    const here = new URLSearchParams(stop === undefined ? '' : search);
    here.set('side', 'question');
    here.set('ask', '1');
    void navigate(`/plans/${session.planId}/${stop ?? 'egress'}?${here.toString()}`);
  };
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const isInField = event.target instanceof HTMLElement && event.target.matches('input, textarea, select');
      const hasControl = event.ctrlKey || event.metaKey;
      if ((hasControl && event.key.toLowerCase() === 'k') || (event.key === '/' && !isInField && !hasControl)) {
        event.preventDefault();
        setFinding(true);
      }
      if (event.key === 'q' && !isInField && !hasControl && !event.altKey) {
        event.preventDefault();
        ask();
      }
      if (!hasControl || isInField) return;
      const isRedo = event.key.toLowerCase() === 'y' || (event.shiftKey && event.key.toLowerCase() === 'z');
      const isUndo = !event.shiftKey && event.key.toLowerCase() === 'z';
      if (!isRedo && !isUndo) return;
      event.preventDefault();
      void step(isRedo ? 'redo' : 'undo');
    };
    document.addEventListener('keydown', onKey);
    return () => document.removeEventListener('keydown', onKey);
  });
  const other = theme === 'paper' ? 'slate' : 'paper';
  return (
    <header className="woven rule-b bg-base-200 flex h-11 items-center gap-3 px-3">
      <Link to="/" className="plain inline-flex items-center gap-2 px-1 font-semibold" title="All plans">
        <img src="/favicon.svg" alt="" width={22} height={22} />
        Wide Lattice
      </Link>
      <span className="plain truncate px-1" title={plan.settings.note}>
        {plan.settings.name} <span className="quiet">revision {revision}</span>
      </span>
      <button
        type="button"
        className="input input-sm bg-base-100 ml-auto w-64 cursor-text justify-start"
        onClick={() => setFinding(true)}
      >
        <Search size={14} aria-hidden />
        <span className="quiet flex-1 truncate text-left">Find an address, prefix or name</span>
        <kbd className="kbd kbd-xs">/</kbd>
      </button>
      <button
        type="button"
        className="btn btn-sm bg-base-100 font-normal"
        onClick={ask}
        title="Ask whether one place reaches another"
      >
        <MessageCircleQuestion size={14} aria-hidden />
        Ask <kbd className="kbd kbd-xs">q</kbd>
      </button>
      <div className="plain flex items-center">
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          disabled={undo === undefined}
          onClick={() => void step('undo')}
          title={undo === undefined ? 'Nothing to undo' : `Undo (Ctrl+Z): ${labelOf(undo)}`}
          aria-label="Undo"
        >
          <Undo2 size={16} aria-hidden />
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          disabled={redo === undefined}
          onClick={() => void step('redo')}
          title={redo === undefined ? 'Nothing to redo' : `Redo (Ctrl+Y): ${labelOf(redo)}`}
          aria-label="Redo"
        >
          <Redo2 size={16} aria-hidden />
        </button>
      </div>
      <Link to="findings" className="plain inline-flex items-center gap-3 px-2" aria-label="Findings">
        <SeverityMark severity="error" count={counts?.all.error ?? 0} />
        <SeverityMark severity="warning" count={counts?.all.warning ?? 0} />
        <SeverityMark severity="note" count={counts?.all.note ?? 0} />
      </Link>
      {!isConnected && (
        <span className="plain text-error inline-flex items-center gap-1" role="status">
          <WifiOff size={14} aria-hidden /> server away
        </span>
      )}
      <div className="plain flex items-center">
        <button
          type="button"
          className="btn btn-ghost btn-sm btn-square"
          aria-label={`Change to the ${other} theme`}
          title={`Change to the ${other} theme`}
          onClick={() => {
            chooseTheme(other);
            setTheme(other);
          }}
        >
          {theme === 'paper' ? <Moon size={16} aria-hidden /> : <Sun size={16} aria-hidden />}
        </button>
        <button
          type="button"
          className="btn btn-ghost btn-sm"
          onClick={() => setNaming(true)}
          title="The name your changes are signed with"
        >
          <UserRound size={16} aria-hidden /> {authorName()}
        </button>
      </div>
      {isFinding && <QuickFind onClose={() => setFinding(false)} />}
      {isNaming && <NameDialog onClose={() => setNaming(false)} />}
    </header>
  );
}

function NameDialog({ onClose }: { readonly onClose: () => void }) {
  const [name, setName] = useState(authorName);
  return (
    <Modal title="Your name" description="Your changes are signed with it in the history." onClose={onClose}>
      <form
        className="flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          setAuthorName(name);
          onClose();
        }}
      >
        <input
          className="input input-sm flex-1"
          aria-label="Your name"
          maxLength={80}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <button type="submit" className="btn btn-sm btn-primary">
          Keep
        </button>
      </form>
    </Modal>
  );
}
