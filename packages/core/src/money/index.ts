export type { CostLine, CostTime, PlanCost } from './cost.js';
export { clusterCost, planCost, sayMoney, totalOf } from './cost.js';
export type { CostChange, CostDifference } from './costDifference.js';
export { costDifference } from './costDifference.js';
