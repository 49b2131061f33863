import * as Dropdown from '@radix-ui/react-dropdown-menu';
import { Check } from 'lucide-react';
import type { ReactNode } from 'react';

/** A button that opens a short list of choices; driven by keys as well. */
export function Menu({
  label,
  icon,
  children,
}: {
  readonly label: string;
  readonly icon: ReactNode;
  readonly children: ReactNode;
}) {
  return (
    <Dropdown.Root>
      <Dropdown.Trigger className="btn btn-sm btn-outline">
        {icon} {label}
      </Dropdown.Trigger>
      <Dropdown.Portal>
        <Dropdown.Content
          align="end"
          sideOffset={4}
          className="bg-base-100 border-base-300 z-50 max-h-[60vh] min-w-40 overflow-auto border py-1 shadow-lg"
        >
          {children}
        </Dropdown.Content>
      </Dropdown.Portal>
    </Dropdown.Root>
  );
}

const look =
  'data-[highlighted]:bg-base-200 flex w-full cursor-pointer items-center gap-2 px-3 py-1 outline-none select-none';

/** One choice of a menu; with `isChecked` it can be on or off, and the menu stays open. */
export function MenuItem({
  isChecked,
  onChoose,
  children,
}: {
  readonly isChecked?: boolean;
  readonly onChoose: () => void;
  readonly children: ReactNode;
}) {
  if (isChecked === undefined)
    return (
      <Dropdown.Item className={look} onSelect={onChoose}>
        {children}
      </Dropdown.Item>
    );
  return (
    <Dropdown.CheckboxItem
      className={look}
      checked={isChecked}
      onSelect={(event) => event.preventDefault()}
      onCheckedChange={onChoose}
    >
      <span className="w-4">{isChecked && <Check size={14} aria-hidden />}</span>
      {children}
    </Dropdown.CheckboxItem>
  );
}
