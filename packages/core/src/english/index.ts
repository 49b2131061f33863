export { sayEnded, sayEvent } from './events.js';
export { sayFailed, sayPolicy, sayTooNarrow, sayTunnelFault } from './failures.js';
export { lackProblem, sayLack } from './lacks.js';
export { sayMend } from './mends.js';
export type { Names } from './names.js';
export { sayLoss, sayNextHop, sayRow, sayRowSource } from './tables.js';
export { sayFault, sayReason, sayTrace } from './traces.js';
