import { section } from '../section/index.js';
import { rangesByCluster } from '../sizing/index.js';
import { changedLists, isSameForPackets } from './changedIds.js';
import { Forwarding } from './forwarding.js';
import { forwardingReads, rangesIn } from './forwardingParts.js';

/** How packets are forwarded: compiled network by network when it is asked, and after an edit taken over where nothing changed. */
export const forwarding = section({
  name: 'forwarding',
  reads: forwardingReads,
  needs: { ranges: rangesByCluster },
  build: (parts, { ranges }) => new Forwarding(parts, rangesIn(ranges)),
  follow: (last, parts, { ranges }) => {
    const next = new Forwarding(parts, rangesIn(ranges), last.value);
    last.value.release();
    return next;
  },
});

/** A mark of how packets go: the same object while every packet goes as it did, whatever else an edit changed. */
export const packets = section({
  name: 'packets',
  reads: [],
  needs: { forwarding },
  build: (): object => ({}),
  follow: (last, _, needed) => (isSameForPackets(last.needed.forwarding, needed.forwarding) ? last.value : {}),
});

/** The same apart from rules: who asks packets remembers which lists they met. */
export const packetsButRules = section({
  name: 'packets, rules apart',
  reads: [],
  needs: { forwarding, packets },
  build: (): object => ({}),
  follow: (last, _, needed) =>
    last.needed.packets === needed.packets || changedLists(last.needed.forwarding, needed.forwarding) !== undefined
      ? last.value
      : {},
});
