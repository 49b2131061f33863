export type { EncapsulationRule } from './encapsulation.js';
export { encapsulations } from './encapsulation.js';
export { efficiency, largestPacket, segmentSize } from './largestPacket.js';
