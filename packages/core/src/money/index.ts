export type { CostLine, CostTime, PlanCost } from './cost.js';
export { clusterCost, planCost, formatMoney, totalOf } from './cost.js';
export type { CostChange, CostDifference } from './costDifference.js';
export { costDifference } from './costDifference.js';
