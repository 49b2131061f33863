// For scripts/test.sh, when the tests' database server crashed: "failed" prints the test files that failed, "merge" puts the counts of
// their second run (test-results/again.json) in place of those of their first one (test-results/unit.json).
import { readFileSync, writeFileSync } from 'node:fs';

const read = (name) => JSON.parse(readFileSync(`test-results/${name}.json`, 'utf8'));
const { testResults } = read('unit');
const isGood = ({ status }) => status === 'passed';

if (process.argv[2] === 'failed') {
  for (const each of testResults) if (!isGood(each)) console.log(each.name);
} else {
  const again = read('again');
  const kept = testResults.filter(isGood).flatMap(({ assertionResults }) => assertionResults.filter(isGood)).length;
  writeFileSync('test-results/unit.json', JSON.stringify({ ...again, numPassedTests: kept + again.numPassedTests }));
}
