import { yaml } from '@codemirror/lang-yaml';
import { lintGutter, setDiagnostics } from '@codemirror/lint';
import { EditorState } from '@codemirror/state';
import { EditorView } from '@codemirror/view';
import { basicSetup } from 'codemirror';
import { useEffect, useRef } from 'react';

/** What is wrong at a line. */
export interface LineProblem {
  readonly line: number;
  readonly message: string;
  readonly fix: string;
}

interface EditorProps {
  readonly label: string;
  readonly isYaml?: boolean;
  /** The text to begin with; another one takes its place. */
  readonly text: string;
  readonly problems: readonly LineProblem[];
  readonly onChange: (text: string) => void;
}

const look = EditorView.theme({
  '&': { height: '100%', fontSize: '12.5px' },
  '.cm-scroller': { fontFamily: "'Atkinson Hyperlegible Mono Variable', ui-monospace, monospace" },
  '.cm-line span': { color: 'inherit' },
  '.cm-gutters': { background: 'transparent', color: 'inherit', borderRight: '1px solid var(--color-base-300)' },
  '.cm-activeLine, .cm-activeLineGutter': { background: 'transparent' },
});

/** Text of manifests or zone files with problems at their lines. */
export function TextEditor({ label, isYaml = false, text, problems, onChange }: EditorProps) {
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
          ...(isYaml ? [yaml()] : []),
          lintGutter(),
          look,
          EditorView.contentAttributes.of({ 'aria-label': label }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) tell.current(update.state.doc.toString());
          }),
        ],
      }),
    });
    view.current = made;
    return () => made.destroy();
  }, [text, label, isYaml]);
  useEffect(() => {
    const made = view.current;
    if (made === undefined) return;
    const { doc } = made.state;
    const marks = problems.map(({ line, message, fix }) => {
      const { from, to } = doc.line(Math.max(1, Math.min(line, doc.lines)));
      return { from, to, severity: 'error' as const, message: `${message} ${fix}` };
    });
    made.dispatch(setDiagnostics(made.state, marks));
  }, [problems]);
  return <div ref={host} className="h-full min-h-0 overflow-hidden" />;
}
