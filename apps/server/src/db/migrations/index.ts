import { Initial1795445711594 } from './1795445711594-Initial.js';
import { Checks1795445800000 } from './1795445800000-Checks.js';
import { Versions1795449874653 } from './1795449874653-Versions.js';
import { GroundInFull1795456449808 } from './1795456449808-GroundInFull.js';
import { GroundValues1795456449809 } from './1795456449809-GroundValues.js';
import { PodNetwork1795461690226 } from './1795461690226-PodNetwork.js';
import { Demand1795467851092 } from './1795467851092-Demand.js';
import { OneShapePerKind1795599000000 } from './1795599000000-OneShapePerKind.js';
import { ChangeIds1795611000000 } from './1795611000000-ChangeIds.js';
import { PlannedAttachments1795610000000 } from './1795610000000-PlannedAttachments.js';
import { Egress1795626035829 } from './1795626035829-Egress.js';
import { Workloads1795640000000 } from './1795640000000-Workloads.js';
import { Ingress1795650000000 } from './1795650000000-Ingress.js';
import { Names1795660000000 } from './1795660000000-Names.js';
import { Joins1795670000000 } from './1795670000000-Joins.js';
import { Removals1795680000000 } from './1795680000000-Removals.js';
import { SharedSubnets1795690000000 } from './1795690000000-SharedSubnets.js';
import { FurtherSubnets1795700000000 } from './1795700000000-FurtherSubnets.js';
import { WholeRecords1795710000000 } from './1795710000000-WholeRecords.js';
import { LocalPreference1795720000000 } from './1795720000000-LocalPreference.js';
import { IcmpMessages1795730000000 } from './1795730000000-IcmpMessages.js';
import { GrantsAndReadiness1795740000000 } from './1795740000000-GrantsAndReadiness.js';
import { PlainNames1795800000000 } from './1795800000000-PlainNames.js';
import { Rehearsal1796200000000 } from './1796200000000-Rehearsal.js';
import { resumable } from './resumable.js';

/** Every migration in order, each such that it can be run again; listed by hand so that nothing depends on file patterns. */
export const migrations = [
  Initial1795445711594,
  Checks1795445800000,
  Versions1795449874653,
  GroundInFull1795456449808,
  GroundValues1795456449809,
  PodNetwork1795461690226,
  Demand1795467851092,
  OneShapePerKind1795599000000,
  PlannedAttachments1795610000000,
  ChangeIds1795611000000,
  Egress1795626035829,
  Workloads1795640000000,
  Ingress1795650000000,
  Names1795660000000,
  Joins1795670000000,
  Removals1795680000000,
  SharedSubnets1795690000000,
  FurtherSubnets1795700000000,
  WholeRecords1795710000000,
  LocalPreference1795720000000,
  IcmpMessages1795730000000,
  GrantsAndReadiness1795740000000,
  PlainNames1795800000000,
  Rehearsal1796200000000,
].map(resumable);
