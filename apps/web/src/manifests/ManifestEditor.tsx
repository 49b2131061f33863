import { yaml } from '@codemirror/lang-yaml';
import { lintGutter, setDiagnostics } from '@codemirror/lint';
import { EditorState } from '@codemirror/state';
import { EditorView } from '@codemirror/view';
import type { ManifestProblem } from '@wide-lattice/core/manifests';
import { basicSetup } from 'codemirror';
import { useEffect, useRef } from 'react';

interface EditorProps {
  /** The text to begin with; another one takes its place. */
  readonly text: string;
  readonly problems: readonly ManifestProblem[];
  readonly onChange: (text: string) => void;
}

const look = EditorView.theme({
  '&': { height: '100%', fontSize: '12.5px' },
  '.cm-scroller': { fontFamily: "'Atkinson Hyperlegible Mono Variable', ui-monospace, monospace" },
  '.cm-line span': { color: 'inherit' },
  '.cm-gutters': { background: 'transparent', color: 'inherit', borderRight: '1px solid var(--color-base-300)' },
  '.cm-activeLine, .cm-activeLineGutter': { background: 'transparent' },
});

/** Text of manifests with problems at their lines. */
export function ManifestEditor({ text, problems, onChange }: EditorProps) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const tell = useRef(onChange);
  useEffect(() => {
    tell.current = onChange;
  });
  useEffect(() => {
    const { current } = host;
    if (current === null) return undefined;
    const made = new EditorView({
      parent: current,
      state: EditorState.create({
        doc: text,
        extensions: [
          basicSetup,
          yaml(),
          lintGutter(),
          look,
          EditorView.contentAttributes.of({ 'aria-label': 'Manifests' }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) tell.current(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = made;
    return () => made.destroy();
  }, [text]);
  useEffect(() => {
    const made = view.current;
    if (made === undefined) return;
    const { doc } = made.state;
    const marks = problems.map(({ line, message, mend }) => {
      const { from, to } = doc.line(Math.max(1, Math.min(line, doc.lines)));
      return { from, to, severity: 'error' as const, message: `${message} ${mend}` };
    });
    made.dispatch(setDiagnostics(made.state, marks));
  }, [problems]);
  return <div ref={host} className="h-full min-h-0 overflow-hidden" />;
}
