import type { UrlTarget } from '../plan/index.js';
import type { Speaker, Subject } from '../road/index.js';
import { certifies } from '../zones/index.js';
import type { RequestProgress } from './requestProgress.js';

/** The certificate by which TLS is answered: it has to cover the host. One whose names nobody entered may or may not. */
export function certified(
  way: RequestProgress,
  { host }: UrlTarget,
  at: Speaker,
  certificate: string,
  names: readonly string[],
  subject: Subject,
): void {
  if (certificate === '' && names.length === 0)
    throw way.stop('broken', undefined, 'certificate', { code: 'certificate.none', at }, subject);
  if (names.length === 0)
    throw way.stop(
      'unknown',
      undefined,
      'certificate',
      { code: 'certificate.unnamed', at, certificate, host },
      subject,
    );
  if (!certifies(names, host))
    throw way.stop(
      'refused',
      undefined,
      'certificate',
      { code: 'certificate.other', at, certificate, host, names },
      subject,
    );
  way.stage('certificate', 'ok', { code: 'certificate.covers', certificate, host, names }, subject);
}
