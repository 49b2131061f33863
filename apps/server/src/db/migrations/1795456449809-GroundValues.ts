import type { MigrationInterface, QueryRunner } from 'typeorm';
import { completeHistory } from './completeHistory.js';

// The usual values of the day; what they are in the core may change later, this migration may not.
const values = {
  profile: {
    smallestSubnet: 30,
    largestSubnet: 8,
    smallestBlock: 30,
    largestBlock: 8,
    blocksPerNetwork: 10,
    clustersPerSite: 1000,
    nodesPerCluster: 5000,
    peeringsPerNetwork: 100,
    leastSurge: 0,
    nativeRule: 'addresses',
  },
  cluster: { hasEntrySubnets: false },
};

const checks: readonly [table: string, name: string, condition: string][] = [
  ...['block', 'subnet'].map((table): [string, string, string] => [
    table,
    `${table}_range`,
    '`family` IN (4, 6) AND `firstAddress` <= `lastAddress` AND `prefixLength` <= IF(`family` = 4, 32, 128)',
  ]),
  ['run', 'run_count', '`count` BETWEEN 1 AND 256'],
  ['shape', 'shape_price', '`price` >= 0'],
  ['profile', 'profile_sizes', '`smallestSubnet` >= `largestSubnet` AND `smallestBlock` >= `largestBlock`'],
];

/** Gives older plans the usual values of the fields that came with the ground in full, in their tables and in their history. */
export class GroundValues1795456449809 implements MigrationInterface {
  name = 'GroundValues1795456449809';

  async up(queryRunner: QueryRunner): Promise<void> {
    for (const [table, fields] of Object.entries(values)) {
      const columns = Object.keys(fields).map((field) => `\`${field}\` = ?`);
      await queryRunner.query(`UPDATE \`${table}\` SET ${columns.join(', ')}`, Object.values(fields));
    }
    for (const [table, name, condition] of checks)
      await queryRunner.query(`ALTER TABLE \`${table}\` ADD CONSTRAINT \`${name}\` CHECK (${condition})`);
    await completeHistory(queryRunner);
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    for (const [table, name] of [...checks].reverse())
      await queryRunner.query(`ALTER TABLE \`${table}\` DROP CONSTRAINT \`${name}\``);
  }
}
