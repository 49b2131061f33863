import { Columns3 } from 'lucide-react';
import { Menu, MenuItem } from './Menu';

interface ColumnMenuProps {
  readonly columns: readonly { readonly id: string; readonly label: string }[];
  readonly shown: readonly string[];
  /** Gets the ids of the shown columns with commas, in their order. */
  readonly onShow: (ids: string) => void;
}

/** Chooses which columns a sheet shows. */
export function ColumnMenu({ columns, shown, onShow }: ColumnMenuProps) {
  const toggle = (id: string) =>
    onShow(
      columns
        .filter((each) => shown.includes(each.id) !== (each.id === id))
        .map((each) => each.id)
        .join(','),
    );
  return (
    <Menu label="Columns" icon={<Columns3 size={14} aria-hidden />}>
      {columns.map(({ id, label }) => (
        <MenuItem key={id} isChecked={shown.includes(id)} onChoose={() => toggle(id)}>
          {label}
        </MenuItem>
      ))}
    </Menu>
  );
}
