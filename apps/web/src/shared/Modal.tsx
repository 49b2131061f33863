import * as Dialog from '@radix-ui/react-dialog';
import { X } from 'lucide-react';
import { useRef, useState } from 'react';
import type { ReactNode, SyntheticEvent } from 'react';

interface ModalProps {
  readonly title: string;
  readonly description: string;
  readonly onClose: () => void;
  readonly children: ReactNode;
  readonly isWide?: boolean;
}

const fields = 'input:not([type=file]):not(:disabled), select:not(:disabled), textarea:not(:disabled)';

/** A dialog over the page. It begins in its first field; Escape closes it, after asking when something was typed, and the focus returns to where it was. */
export function Modal({ title, description, onClose, children, isWide = false }: ModalProps) {
  const [opener] = useState(() => document.activeElement);
  const body = useRef<HTMLDivElement>(null);
  const isTyped = useRef(false);
  const [isAsking, setAsking] = useState(false);
  const leave = () => {
    if (isTyped.current && !isAsking) setAsking(true);
    else onClose();
  };
  const note = ({ target }: SyntheticEvent) => {
    const isChosen = target instanceof HTMLInputElement && ['checkbox', 'radio', 'range', 'file'].includes(target.type);
    if (!isChosen) isTyped.current = true;
  };
  const begin = (event: Event) => {
    const field = body.current?.querySelector<HTMLElement>(`[autofocus], ${fields}`);
    const first = field ?? body.current?.querySelector<HTMLElement>('button:not(:disabled)');
    if (first === null || first === undefined) return;
    event.preventDefault();
    // A part of the dialog may have chosen its own beginning.
    if (body.current?.contains(document.activeElement) !== true) first.focus();
  };
  const end = (event: Event) => {
    event.preventDefault();
    // What opened it may be gone, such as the row that was removed.
    const back =
      opener instanceof HTMLElement && opener.isConnected ? opener : document.querySelector<HTMLElement>('main');
    back?.focus();
  };
  return (
    <Dialog.Root open onOpenChange={(isOpen) => !isOpen && leave()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <Dialog.Content
          onOpenAutoFocus={begin}
          onCloseAutoFocus={end}
          className={`bg-base-100 border-base-300 fixed top-[8vh] left-1/2 z-50 flex max-h-[84vh] w-[94vw] -translate-x-1/2 flex-col border shadow-lg ${isWide ? 'max-w-4xl' : 'max-w-xl'}`}
        >
          <header className="rule-b flex items-start justify-between gap-4 px-4 py-2.5">
            <div>
              <Dialog.Title className="heading">{title}</Dialog.Title>
              <Dialog.Description className="quiet">{description}</Dialog.Description>
            </div>
            <Dialog.Close className="btn btn-ghost btn-xs btn-square" aria-label="Close">
              <X size={16} aria-hidden />
            </Dialog.Close>
          </header>
          {isAsking && <Unsaved onStay={() => setAsking(false)} onLeave={onClose} />}
          <div ref={body} className="flex min-h-0 flex-1 flex-col overflow-auto px-4 py-3" onInput={note}>
            {children}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Unsaved({ onStay, onLeave }: { readonly onStay: () => void; readonly onLeave: () => void }) {
  return (
    <div role="alert" className="rule-b bg-base-200 flex flex-wrap items-center gap-2 px-4 py-2">
      What you typed is not saved.
      <button type="button" className="btn btn-sm btn-primary ml-auto" autoFocus onClick={onStay}>
        Go on typing
      </button>
      <button type="button" className="btn btn-sm btn-outline" onClick={onLeave}>
        Discard it
      </button>
    </div>
  );
}
