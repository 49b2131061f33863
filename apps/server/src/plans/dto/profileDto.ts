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
  @Field('profiles', 'warmSpare') warmSpare: number;
  @Field('profiles', 'membersPerBalancer') membersPerBalancer: number;
  @Field('profiles', 'publicAddresses') publicAddresses: number;
  @Field('profiles', 'priceControlPlane') priceControlPlane: number | null;
  @Field('profiles', 'priceBalancer') priceBalancer: number | null;
  @Field('profiles', 'priceNat') priceNat: number | null;
  @Field('profiles', 'priceNatGb') priceNatGb: number | null;
  @Field('profiles', 'priceAddress') priceAddress: number | null;
  @Field('profiles', 'priceZoneGb') priceZoneGb: number | null;
  @Field('profiles', 'priceOutGb') priceOutGb: number | null;
}
