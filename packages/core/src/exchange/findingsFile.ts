import { inWords } from '../findings/index.js';
import type { Finding } from '../findings/index.js';
import type { Names } from '../english/index.js';
import { plain } from './plain.js';
import type { Json } from './plain.js';

/** The version of the form; it is raised when something is renamed or taken away. */
const VERSION = 1;

/** Findings as data: codes, facts and words side by side, as docs/findings.schema.json describes it. */
export function findingsFile(names: Names, findings: readonly Finding[]): Json {
  return {
    format: 'wide-lattice-findings',
    version: VERSION,
    findings: findings.map((each) => findingJson(names, each)),
  };
}

/** One finding as data. `says` is the code of what was found, where a check can find several things. */
export function findingJson(names: Names, finding: Finding): Json {
  const { code: says, ...facts } = finding.fact;
  const { key, code, severity, subjects, title, detail, chain, fixes, ask } = inWords(names, finding);
  return {
    key,
    code,
    says,
    severity,
    subjects: plain(subjects),
    facts: plain(facts),
    title,
    detail,
    chain: [...chain],
    fixes: plain(fixes),
    ask: plain(ask),
  };
}
