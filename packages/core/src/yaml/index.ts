export { parseYaml } from './parseYaml.js';
