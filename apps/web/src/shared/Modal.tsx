import * as Dialog from '@radix-ui/react-dialog';
import { X } from 'lucide-react';
import type { ReactNode } from 'react';

interface ModalProps {
  readonly title: string;
  readonly description: string;
  readonly onClose: () => void;
  readonly children: ReactNode;
  readonly isWide?: boolean;
}

/** A dialog over the page; Escape closes it and focus returns to where it was. */
export function Modal({ title, description, onClose, children, isWide = false }: ModalProps) {
  return (
    <Dialog.Root open onOpenChange={(isOpen) => !isOpen && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <Dialog.Content
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
          <div className="flex min-h-0 flex-1 flex-col overflow-auto px-4 py-3">{children}</div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
