import { Keyboard, MessageCircleQuestion, Moon, Redo2, Search, Sun, Undo2, UserRound, WifiOff } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { authorName, clientId, setAuthorName } from '../plan/identity';
import { usePlan } from '../plan/PlanContext';
import { rootOf, undoState } from '../plan/undoStack';
import { tellOutcome } from '../plan/useCommit';
import { useTriedSlice } from '../plan/useSlice';
import { IconButton } from '../shared/IconButton';
import { SeverityMark } from '../shared/Marks';
import { Modal } from '../shared/Modal';
import { isStopped } from '../worker/coreHandle';
import { KeysDialog } from './KeysDialog';
import { PlannedSwitch } from './PlannedSwitch';
import { QuickFind } from './QuickFind';
import { chooseTheme, currentTheme } from './theme';

/** The thin bar: mark, plan, quick find, undo and redo, findings, theme, person. */
export function TopBar() {
  const { plan, revision, session, isConnected } = usePlan();
  const [dialog, setDialog] = useState<'find' | 'name' | 'keys'>();
  const close = () => setDialog(undefined);
  const step = async (what: 'undo' | 'redo') => {
    const done = await session[what]();
    if (done === undefined) return;
    const problem = tellOutcome(done.outcome);
    if (problem === '') toast.success(`${what === 'undo' ? 'Undone' : 'Redone'}: ${done.label}`);
    else toast.error(problem);
  };
  const ask = useAsk();
  useKeys({ find: () => setDialog('find'), keys: () => setDialog('keys'), ask, step: (what) => void step(what) });
  return (
    <header className="woven rule-b bg-base-200 flex min-h-11 shrink-0 flex-wrap items-center gap-x-3 gap-y-1 px-3 py-1">
      <Link to="/" className="plain inline-flex items-center gap-2 px-1 font-semibold" title="All plans">
        <img src="/favicon.svg" alt="" width={22} height={22} />
        Wide Lattice
      </Link>
      <span className="plain max-w-full truncate px-1" title={plan.settings.note}>
        {plan.settings.name} <span className="quiet">revision {revision}</span>
      </span>
      <button
        type="button"
        className="input input-sm bg-base-100 ml-auto w-64 cursor-text justify-start"
        onClick={() => setDialog('find')}
      >
        <Search size={14} aria-hidden />
        <span className="quiet flex-1 truncate text-left">Find an address or a name</span>
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
      <UndoButtons onStep={(what) => void step(what)} />
      <PlannedSwitch />
      <FindingCounts />
      {!isConnected && (
        <span className="plain text-error inline-flex items-center gap-1" role="status">
          <WifiOff size={14} aria-hidden /> server away
        </span>
      )}
      <Person onKeys={() => setDialog('keys')} onName={() => setDialog('name')} />
      {dialog === 'find' && <QuickFind onClose={close} />}
      {dialog === 'name' && <NameDialog onClose={close} />}
      {dialog === 'keys' && <KeysDialog onClose={close} />}
    </header>
  );
}

/** Keys, theme, and the name that changes are signed with. */
function Person({ onKeys, onName }: { readonly onKeys: () => void; readonly onName: () => void }) {
  return (
    <div className="plain flex items-center">
      <IconButton label="Keys (?)" onClick={onKeys}>
        <Keyboard size={16} aria-hidden />
      </IconButton>
      <ThemeButton />
      <button
        type="button"
        className="btn btn-ghost btn-sm"
        onClick={onName}
        title="The name your changes are signed with"
      >
        <UserRound size={16} aria-hidden /> {authorName()}
      </button>
    </div>
  );
}

/** Opens the question bar of the stop that is open, or that of Egress. */
function useAsk(): () => void {
  const { session } = usePlan();
  const navigate = useNavigate();
  const { pathname, search } = useLocation();
  return () => {
    const stop = ['ingress', 'dns'].find((each) => pathname.endsWith(`/${each}`));
    const here = new URLSearchParams(stop === undefined ? '' : search);
    here.set('side', 'question');
    here.set('ask', '1');
    void navigate(`/plans/${session.planId}/${stop ?? 'egress'}?${here.toString()}`);
  };
}

interface KeyActs {
  readonly find: () => void;
  readonly keys: () => void;
  readonly ask: () => void;
  readonly step: (what: 'undo' | 'redo') => void;
}

/** The keys that hold anywhere; in a field, and where a part of the page took the key itself, they are left alone. */
function useKeys({ find, keys, ask, step }: KeyActs): void {
  useEffect(() => {
    const actOf = (event: KeyboardEvent): (() => void) | undefined => {
      const isInField =
        event.target instanceof HTMLElement &&
        event.target.matches('input, textarea, select, [contenteditable="true"]');
      const key = event.key.toLowerCase();
      if (event.ctrlKey || event.metaKey) {
        if (key === 'k') return find;
        if (isInField) return undefined;
        if (key === 'y' || (key === 'z' && event.shiftKey)) return () => step('redo');
        return key === 'z' ? () => step('undo') : undefined;
      }
      if (isInField || event.altKey) return undefined;
      return { '/': find, q: ask, '?': keys }[event.key];
    };
    const onKey = (event: KeyboardEvent) => {
      const act = event.defaultPrevented ? undefined : actOf(event);
      if (act === undefined) return;
      event.preventDefault();
      act();
    };
    document.addEventListener('keydown', onKey);
    return () => document.removeEventListener('keydown', onKey);
  });
}

function UndoButtons({ onStep }: { readonly onStep: (what: 'undo' | 'redo') => void }) {
  const { history } = usePlan();
  const { undo, redo } = undoState(history, clientId());
  const labelOf = (change: typeof undo) => (change === undefined ? '' : rootOf(change, history).change.label);
  return (
    <div className="plain flex items-center">
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        disabled={undo === undefined}
        onClick={() => onStep('undo')}
        title={undo === undefined ? 'Nothing to undo' : `Undo (Ctrl+Z): ${labelOf(undo)}`}
        aria-label="Undo"
      >
        <Undo2 size={16} aria-hidden />
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-sm btn-square"
        disabled={redo === undefined}
        onClick={() => onStep('redo')}
        title={redo === undefined ? 'Nothing to redo' : `Redo (Ctrl+Y): ${labelOf(redo)}`}
        aria-label="Redo"
      >
        <Redo2 size={16} aria-hidden />
      </button>
    </div>
  );
}

function FindingCounts() {
  const { slice: counts, failure } = useTriedSlice('findingCounts');
  return (
    <Link to="findings" className="plain inline-flex items-center gap-3 px-2" aria-label="Findings">
      {failure !== null ? (
        <span className={isStopped(failure) ? 'quiet' : 'text-error'} title={failure.message}>
          {isStopped(failure) ? 'counting stopped' : 'findings failed'}
        </span>
      ) : counts === undefined ? (
        <span className="quiet">counting...</span>
      ) : (
        (['error', 'warning', 'note'] as const).map((severity) => (
          <SeverityMark key={severity} severity={severity} count={counts.all[severity]} />
        ))
      )}
    </Link>
  );
}

function ThemeButton() {
  const [theme, setTheme] = useState(currentTheme);
  const other = theme === 'paper' ? 'slate' : 'paper';
  return (
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
