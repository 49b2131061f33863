import { Modal } from '../shared/Modal';

type Keys = readonly (readonly [keys: readonly string[], does: string])[];

const parts: readonly { readonly title: string; readonly keys: Keys }[] = [
  {
    title: 'Anywhere',
    keys: [
      [['/'], 'Find an address, a prefix or a name'],
      [['Ctrl', 'K'], 'The same, also while a field is typed in'],
      [['q'], 'Ask whether one place reaches another'],
      [['Ctrl', 'Z'], 'Undo your last change'],
      [['Ctrl', 'Y'], 'Redo it'],
      [['?'], 'This list'],
      [['Tab'], 'The first one on a page: skip to its sheet'],
      [['Esc'], 'Close a dialog; what was typed is asked for first'],
    ],
  },
  {
    title: 'In a sheet',
    keys: [
      [['arrows'], 'Go from cell to cell'],
      [['F2'], 'Edit the cell; a letter or digit begins with itself'],
      [['Enter'], 'Edit the cell, or open its row where it cannot be edited; save what was typed'],
      [['Esc'], 'Leave a cell as it was; unmark rows'],
      [['Space'], 'Choose the row'],
      [['Shift', 'arrows'], 'Mark rows'],
      [['Ctrl', 'A'], 'Mark all rows'],
      [['Delete'], 'Remove the row, or those marked'],
      [['Ctrl', 'V'], 'Paste cells, or rows with headings'],
    ],
  },
  {
    title: 'Elsewhere',
    keys: [
      [['arrows'], 'Go from tab to tab, from step to step of an answer, along a ribbon'],
      [['arrows'], 'On the line between the halves: move it'],
    ],
  },
];

/** All keys of the application. */
export function KeysDialog({ onClose }: { readonly onClose: () => void }) {
  return (
    <Modal title="Keys" description="On a Mac, Cmd stands for Ctrl." onClose={onClose}>
      {parts.map(({ title, keys }) => (
        <section key={title} className="mb-3" aria-label={title}>
          <h3 className="heading mb-1">{title}</h3>
          <dl className="grid grid-cols-[9rem_minmax(0,1fr)] gap-x-3 gap-y-1">
            {keys.map(([pressed, does]) => (
              <div key={does} className="contents">
                <dt className="flex flex-wrap gap-1">
                  {pressed.map((key) => (
                    <kbd key={key} className="kbd kbd-sm">
                      {key}
                    </kbd>
                  ))}
                </dt>
                <dd>{does}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
    </Modal>
  );
}
