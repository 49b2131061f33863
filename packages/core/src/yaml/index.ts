export { parseYaml } from './parseYaml.js';
export { yamlRows } from './yamlRows.js';
