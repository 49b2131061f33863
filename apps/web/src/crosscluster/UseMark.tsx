import type { UseVerdict } from '@wide-lattice/core/crosscluster';
import { TraceMark } from '../question/TraceMark';

/** How a cluster stands to an exported service, by shape, colour and word. */
export function UseMark({ verdict, word }: { readonly verdict: UseVerdict; readonly word?: string }) {
  if (verdict === 'closed') return <span className="quiet">{word ?? 'not open'}</span>;
  if (verdict === 'part') return <TraceMark verdict="refused" word={word ?? 'in part'} />;
  return <TraceMark verdict={verdict} {...(word === undefined ? {} : { word })} />;
}
