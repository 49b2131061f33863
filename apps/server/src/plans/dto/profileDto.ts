import type { Profile } from '@wide-lattice/core';
import { EntityId, Field } from './field.js';

/** A set of provider rules. */
export class ProfileDto implements Profile {
  @EntityId() id: string;
  @Field('profiles', 'name') name: string;
  @Field('profiles', 'reservedFirst') reservedFirst: number;
  @Field('profiles', 'reservedLast') reservedLast: number;
  @Field('profiles', 'subnetScope') subnetScope: Profile['subnetScope'];
  @Field('profiles', 'routesPerTable') routesPerTable: number;
  @Field('profiles', 'smallestSubnet') smallestSubnet: number;
  @Field('profiles', 'largestSubnet') largestSubnet: number;
  @Field('profiles', 'smallestBlock') smallestBlock: number;
  @Field('profiles', 'largestBlock') largestBlock: number;
  @Field('profiles', 'blocksPerNetwork') blocksPerNetwork: number;
  @Field('profiles', 'clustersPerSite') clustersPerSite: number;
  @Field('profiles', 'nodesPerCluster') nodesPerCluster: number;
  @Field('profiles', 'peeringsPerNetwork') peeringsPerNetwork: number;
  @Field('profiles', 'leastSurge') leastSurge: number;
  @Field('profiles', 'nativeRule') nativeRule: Profile['nativeRule'];
}
