import type { ReactNode } from 'react';
import type { RibbonBlock, RibbonLane as Lane } from '../worker/slices/ribbon';

const letters: Readonly<Partial<Record<RibbonBlock['what'], string>>> = {
  node: 'N',
  pod: 'P',
  service: 'S',
  entry: 'E',
  elsewhere: 'U',
};

const looks: Readonly<Partial<Record<RibbonBlock['what'], string>>> = {
  free: 'free-hatch',
  room: 'room-hatch',
  pool: 'bg-base-200 text-base-content',
  block: 'bg-base-200 text-base-content border-base-content/40!',
  subnet: 'bg-base-300 text-base-content',
  several: 'bg-base-300 text-base-content',
};

/** One line of the ribbon with its name. */
export function RibbonLane({ lane, children }: { readonly lane: Pick<Lane, 'name'>; readonly children: ReactNode }) {
  return (
    <div className="flex items-stretch">
      <span className="quiet w-16 shrink-0 self-center text-xs">{lane.name}</span>
      <div
        className={`border-base-300 relative mb-1 flex-1 overflow-hidden border ${lane.name === 'Clusters' ? 'h-9' : 'h-5'}`}
      >
        {children}
      </div>
    </div>
  );
}

/** How a block looks, where it lies, and what it says to those who do not see it. */
export function blockShape(block: RibbonBlock) {
  const { what, verdict } = block;
  const isPurpose = letters[what] !== undefined;
  return {
    className: `border-base-100 absolute inset-y-0 overflow-hidden border-x px-0.5 text-left text-xs leading-none whitespace-nowrap ${looks[what] ?? ''}`,
    style: {
      left: `${block.start * 100}%`,
      width: `${block.width * 100}%`,
      ...(isPurpose ? { background: `var(--purpose-${what})`, color: 'var(--purpose-text)' } : {}),
    },
    'aria-label': `${block.prefix} ${block.label} ${block.detail} ${verdict === 'clear' ? '' : verdict}`.trim(),
  };
}

/** What is written on a block: the letter of its purpose, its name, and the mark of its verdict. */
export function BlockWords({ block }: { readonly block: RibbonBlock }) {
  const { what, verdict, label } = block;
  return (
    <>
      {block.width > 0.02 && (
        <span className="pointer-events-none block truncate">
          {letters[what] !== undefined && <b>{letters[what]} </b>}
          {what === 'free' || what === 'room' ? '' : label}
        </span>
      )}
      {verdict !== 'clear' && (
        <span className="conflict-hatch pointer-events-none absolute inset-x-0 bottom-0 h-2" aria-hidden />
      )}
    </>
  );
}
