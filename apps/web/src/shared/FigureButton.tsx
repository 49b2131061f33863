import { formatNumber } from '@wide-lattice/core/working';
import { useState } from 'react';
import type { ReactNode } from 'react';
import type { ShownFigure } from '../worker/slices/figures';
import { Modal } from './Modal';

const marks = { S: 'Published standard', C: 'Common practice', M: 'From memory of a published source' } as const;

/** A figure whose working is one click away. */
export function FigureButton({ figure, children }: { readonly figure: ShownFigure; readonly children?: ReactNode }) {
  const [isOpen, setOpen] = useState(false);
  const { working } = figure;
  return (
    <>
      <button
        type="button"
        className="figure-button"
        title={`How this came about: ${working.title}`}
        onClick={() => setOpen(true)}
      >
        {children ?? `${formatNumber(figure.value)} ${figure.unit}`}
      </button>
      {isOpen && (
        <Modal title={working.title} description="How this figure came about" onClose={() => setOpen(false)}>
          <p className="bg-base-200 mb-3 px-3 py-2 font-mono">{working.formula}</p>
          {working.inputs.length > 0 && (
            <table className="mb-3 w-full">
              <tbody>
                {working.inputs.map(({ name, value }, i) => (
                  <tr key={i} className="rule-b">
                    <th scope="row" className="quiet py-1 text-left font-normal">
                      {name}
                    </th>
                    <td className="py-1 text-right font-mono">{value}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
          <ol className="mb-3 list-decimal pl-5">
            {working.steps.map((step, i) => (
              <li key={i}>{step}</li>
            ))}
          </ol>
          <p className="mb-3 text-lg font-semibold">= {working.result}</p>
          <p className="quiet">
            <strong>{marks[working.source.mark]}.</strong> {working.source.text}
          </p>
        </Modal>
      )}
    </>
  );
}
