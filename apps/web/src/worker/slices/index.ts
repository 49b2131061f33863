import type { Steps } from '@wide-lattice/core/working';
import type { SliceHost } from '../sliceHost';
import { boardSlices } from './boardSlices';
import { crossSlices } from './crossSlices';
import { demandSlices } from './demandSlices';
import { dnsSlices } from './dnsSlices';
import { drillSlices } from './drillSlices';
import { egressSlices } from './egressSlices';
import { exchangeSlices } from './exchangeSlices';
import { findingSlices } from './findingSlices';
import { groundSlices } from './groundSlices';
import { handoverSlices } from './handoverSlices';
import { ingressSlices } from './ingressSlices';
import { podNetworkSlices } from './podNetworkSlices';
import { rangeSlices } from './rangeSlices';
import { rehearsalSlices } from './rehearsalSlices';
import { testSlices } from './testSlices';

/** Every question that the page can ask the worker, capability by capability. */
export const slices = {
  ...boardSlices,
  ...groundSlices,
  ...demandSlices,
  ...rangeSlices,
  ...podNetworkSlices,
  ...egressSlices,
  ...ingressSlices,
  ...dnsSlices,
  ...crossSlices,
  ...findingSlices,
  ...exchangeSlices,
  ...handoverSlices,
  ...rehearsalSlices,
  ...testSlices,
  ...drillSlices,
};

type Slices = typeof slices;

/** The name of a slice. */
export type SliceName = keyof Slices;

/** What a slice is asked with, beside the plan. */
export type SliceArgs<S extends SliceName> = Slices[S] extends (host: SliceHost, ...args: infer A) => unknown
  ? A
  : never;

/** What a slice answers, at once or in steps. */
export type SliceAnswer<S extends SliceName> = ReturnType<Slices[S]> extends Steps<infer T> ? T : ReturnType<Slices[S]>;
