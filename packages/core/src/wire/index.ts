export type { EncapsulationRule } from './encapsulation.js';
export { encapsulations } from './encapsulation.js';
export { efficiency, largestPacket, MIN_IPV6, segmentSize } from './largestPacket.js';
