import type { Figure, Working } from '@wide-lattice/core/working';

/** A figure with its derivation made, ready to leave the worker. */
export interface ShownFigure {
  readonly value: number;
  readonly unit: string;
  readonly working: Working;
}

/** Makes a figure's derivation. */
export function shown(figure: Figure): ShownFigure {
  return { value: figure.value, unit: figure.unit, working: figure.explain() };
}
