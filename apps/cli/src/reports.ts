import type { DescribedFinding, Severity } from '@wide-lattice/core/findings';
import { junitXml } from '@wide-lattice/core/exchange';

const levels: Readonly<Record<Severity, 'error' | 'warning' | 'note'>> = {
  error: 'error',
  warning: 'warning',
  note: 'note',
};

/**
 * Findings as JUnit XML: a test case each, of which errors fail. Form: as many build servers read it (common practice; there is
 * no published standard).
 */
export function junitOf(name: string, findings: readonly DescribedFinding[]): string {
  const counts = { tests: findings.length, failures: findings.filter(({ severity }) => severity === 'error').length };
  return junitXml({
    attributes: { name: 'wide-lattice check', ...counts },
    suites: [
      {
        attributes: { name, ...counts },
        cases: findings.map(({ code, severity, title, detail, chain }) => {
          const text = [detail, ...chain].join('\n');
          return {
            attributes: { classname: code, name: title },
            ...(severity === 'error'
              ? { failure: { type: code, message: title, text } }
              : { output: `${severity}: ${text}` }),
          };
        }),
      },
    ],
  });
}

/** Findings in the Static Analysis Results Interchange Format (OASIS SARIF 2.1.0): rules are the codes of findings. */
export function sarifOf(findings: readonly DescribedFinding[]): object {
  const codes = [...new Set(findings.map(({ code }) => code))].sort();
  return {
    $schema: 'https://docs.oasis-open.org/sarif/sarif/v2.1.0/os/schemas/sarif-schema-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: { driver: { name: 'Wide Lattice', rules: codes.map((id) => ({ id })) } },
        results: findings.map(({ code, severity, title, detail, chain, subjects, key }) => ({
          ruleId: code,
          ruleIndex: codes.indexOf(code),
          level: levels[severity],
          message: { text: [title, detail, ...chain].join('\n') },
          partialFingerprints: { finding: key },
          locations: [
            {
              logicalLocations: subjects.map(({ kind, id }) => ({ fullyQualifiedName: `${kind}/${id}`, kind })),
            },
          ],
        })),
      },
    ],
  };
}
