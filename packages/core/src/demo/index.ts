export { demoPlan } from './demoPlan.js';
