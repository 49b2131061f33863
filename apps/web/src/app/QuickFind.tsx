import * as Dialog from '@radix-ui/react-dialog';
import { useQuery } from '@tanstack/react-query';
import { byId, kindNames } from '@wide-lattice/core/plan';
import type { Hit } from '@wide-lattice/core/lookup';
import type { Entity } from '@wide-lattice/core/plan';
import { Command } from 'cmdk';
import { useDeferredValue, useState } from 'react';
import { useNavigate } from 'react-router';
import { linkTo } from '../kinds/kindViews';
import { usePlan } from '../plan/PlanContext';
import { formatFailure } from '../shared/formatFailure';
import { core } from '../worker/coreClient';

/** Finds any address, prefix or name: who holds it, inside what, free or not. */
export function QuickFind({ onClose }: { readonly onClose: () => void }) {
  const [text, setText] = useState('');
  const query = useDeferredValue(text.trim());
  const { plan, session, revision } = usePlan();
  const navigate = useNavigate();
  const { data: answer, error } = useQuery({
    queryKey: [session.planId, revision, 'find', query],
    queryFn: () => core.ask('find', query),
    enabled: query !== '',
    throwOnError: false,
  });
  const open = (hit: Hit) => {
    onClose();
    const entity = byId<Entity>(plan[hit.kind], hit.id);
    if (entity !== undefined) void navigate(`/plans/${session.planId}/${linkTo(hit.kind, entity as never)}`);
  };
  return (
    <Dialog.Root open onOpenChange={(isOpen) => !isOpen && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <Dialog.Content className="bg-base-100 border-base-300 fixed top-[10vh] left-1/2 z-50 w-[94vw] max-w-2xl -translate-x-1/2 border shadow-lg">
          <Dialog.Title className="sr-only">Quick find</Dialog.Title>
          <Dialog.Description className="sr-only">Type an address, a prefix or part of a name.</Dialog.Description>
          <Command shouldFilter={false} label="Quick find">
            <Command.Input
              value={text}
              onValueChange={setText}
              placeholder="10.20.3.4, 10.20.0.0/16, kiosk..."
              className="rule-b w-full px-4 py-3 font-mono outline-none"
            />
            {query !== '' && error !== null && (
              <p className="rule-b text-error px-4 py-2" role="alert">
                This could not be found out. {formatFailure(error)}
              </p>
            )}
            {query !== '' && answer !== undefined && (
              <p className="rule-b px-4 py-2" role="status">
                {answer.summary}
              </p>
            )}
            <Hits isAsked={query !== ''} hits={answer?.hits ?? []} onOpen={open} />
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Hits({
  isAsked,
  hits,
  onOpen,
}: {
  readonly isAsked: boolean;
  readonly hits: readonly Hit[];
  readonly onOpen: (hit: Hit) => void;
}) {
  return (
    <Command.List className="max-h-80 overflow-auto py-1">
      {!isAsked && (
        <p className="quiet px-4 py-3">
          Type an address to see who holds it, a prefix to see what is in it, or part of a name.
        </p>
      )}
      {isAsked &&
        hits.map((hit) => (
          <Command.Item
            key={hit.id}
            value={hit.id}
            onSelect={() => onOpen(hit)}
            className="data-[selected=true]:bg-base-200 flex cursor-pointer items-baseline gap-3 px-4 py-1.5"
          >
            <span className="quiet w-28 shrink-0">{kindNames[hit.kind]}</span>
            <span className="font-medium">{hit.label}</span>
            <span className="quiet truncate font-mono text-xs">{hit.detail}</span>
          </Command.Item>
        ))}
    </Command.List>
  );
}
