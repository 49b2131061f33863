import type { MigrationInterface, QueryRunner } from 'typeorm';
import { completeHistory } from './completeHistory.js';

const wraps = [
  'none',
  'vxlan',
  'geneve',
  'ipip',
  'gre',
  'wireguard',
  'esp-gcm',
  'esp-gcm-nat',
  'esp-cbc',
  'esp-cbc-nat',
];

// The usual values of the day; what they are in the core may change later, this migration may not.
const values = {
  plan: { weightWishes: 5 },
  profile: { membersPerBalancer: 1000, publicAddresses: 100 },
  shape: { encapsulations: JSON.stringify(wraps) },
  cluster: {
    encryption: 'none',
    controlPlane: 'hosted',
    controlNodes: 3,
    apiEndpoint: 'public',
    growth: 'linear',
    snatPorts: 1024,
  },
};

const checks: readonly [table: string, name: string, condition: string][] = [
  // Nodes may all be in node pools, so that a cluster has none of its own.
  ['cluster', 'cluster_counts', '`nodesNow` >= 0 AND `nodesHorizon` >= 0 AND `podsPerNode` >= 1 AND `services` >= 0'],
  [
    'node_pool',
    'node_pool_counts',
    '`nodesMin` >= 0 AND `nodesNow` BETWEEN `nodesMin` AND `nodesMax` AND `nodesHorizon` >= 0',
  ],
  ['node_pool', 'node_pool_surge', '`surgePercent` BETWEEN 0 AND 100'],
];

/** What demand is made of: control planes, node pools, growth, kinds of services, traffic and prices, templates, rebuilds. */
export class Demand1795467851092 implements MigrationInterface {
  name = 'Demand1795467851092';

  public async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(
      `CREATE TABLE \`template\` (\`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`name\` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, \`basedOnId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, \`namePattern\` varchar(60) NOT NULL, \`networkId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, \`shapeId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, \`fixes\` json NOT NULL, \`poolIds\` json NOT NULL, UNIQUE INDEX \`IDX_f0cd0bc0b4aea3cdca530e9ab9\` (\`planId\`, \`name\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`node_pool\` (\`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`clusterId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`name\` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, \`kind\` varchar(10) NOT NULL, \`shapeId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL, \`zones\` json NOT NULL, \`nodesNow\` int NOT NULL, \`nodesMin\` int NOT NULL, \`nodesMax\` int NOT NULL, \`nodesHorizon\` int NOT NULL, \`surgePercent\` int NOT NULL, \`podsPerNode\` int NULL, \`isPublic\` tinyint NOT NULL, \`labels\` json NOT NULL, \`taints\` json NOT NULL, \`attachmentSubnetIds\` json NOT NULL, UNIQUE INDEX \`IDX_6c898528f65f5327c4dfa6e09a\` (\`planId\`, \`clusterId\`, \`name\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `CREATE TABLE \`rebuild\` (\`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`clusterId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`what\` varchar(500) NOT NULL, \`reason\` varchar(500) NOT NULL, \`decidedOn\` char(10) NOT NULL, \`decidedBy\` varchar(80) NOT NULL, PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(`ALTER TABLE \`plan\` ADD \`weightWishes\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`plan\` ADD \`currency\` varchar(12) NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`warmSpare\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`membersPerBalancer\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`publicAddresses\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`priceControlPlane\` decimal(12,4) NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`priceBalancer\` decimal(12,4) NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`priceNat\` decimal(12,4) NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`priceNatGb\` decimal(12,4) NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`priceAddress\` decimal(12,4) NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`priceZoneGb\` decimal(12,4) NULL`);
    await queryRunner.query(`ALTER TABLE \`profile\` ADD \`priceOutGb\` decimal(12,4) NULL`);
    await queryRunner.query(`ALTER TABLE \`shape\` ADD \`encapsulations\` json NOT NULL DEFAULT '[]'`);
    await queryRunner.query(
      `ALTER TABLE \`cluster\` ADD \`templateId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL`,
    );
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`encryption\` varchar(16) NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`podWishes\` json NOT NULL DEFAULT '[]'`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`controlPlane\` varchar(10) NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`controlNodes\` int NOT NULL`);
    await queryRunner.query(
      `ALTER TABLE \`cluster\` ADD \`controlShapeId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NULL`,
    );
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`apiEndpoint\` varchar(10) NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`zoneCount\` int NULL`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`growth\` varchar(10) NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`growthPerYear\` decimal(12,1) NULL`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`growthSteps\` json NOT NULL DEFAULT '[]'`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`nodePortServices\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`balancerServices\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`headlessServices\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`hasPublicBalancers\` tinyint NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`natAddresses\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`snatPorts\` int NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`zoneGb\` decimal(12,2) NOT NULL`);
    await queryRunner.query(`ALTER TABLE \`cluster\` ADD \`outGb\` decimal(12,2) NOT NULL`);
    await queryRunner.query(
      `ALTER TABLE \`template\` ADD CONSTRAINT \`FK_cfc0f93d2f2f5ee8f1452ad0762\` FOREIGN KEY (\`planId\`, \`shapeId\`) REFERENCES \`shape\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`template\` ADD CONSTRAINT \`FK_3069147100e71b27ac368601a5b\` FOREIGN KEY (\`planId\`, \`networkId\`) REFERENCES \`network\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`template\` ADD CONSTRAINT \`FK_0ec79568374250895ecbd2be12d\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`cluster\` ADD CONSTRAINT \`FK_488685b634e425c6eed3bbefa84\` FOREIGN KEY (\`planId\`, \`templateId\`) REFERENCES \`template\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`cluster\` ADD CONSTRAINT \`FK_53b2942fde7a25ca65c37e6e376\` FOREIGN KEY (\`planId\`, \`controlShapeId\`) REFERENCES \`shape\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`node_pool\` ADD CONSTRAINT \`FK_75da853ac26517a3d455efa93be\` FOREIGN KEY (\`planId\`, \`shapeId\`) REFERENCES \`shape\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`node_pool\` ADD CONSTRAINT \`FK_442d83404cee88ddc9f32852ed7\` FOREIGN KEY (\`planId\`, \`clusterId\`) REFERENCES \`cluster\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`node_pool\` ADD CONSTRAINT \`FK_e6d271ff20e80293bec9e23e016\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`rebuild\` ADD CONSTRAINT \`FK_4f77da4f7df7050bb490c15b39b\` FOREIGN KEY (\`planId\`, \`clusterId\`) REFERENCES \`cluster\`(\`planId\`,\`id\`) ON DELETE NO ACTION ON UPDATE NO ACTION`,
    );
    await queryRunner.query(
      `ALTER TABLE \`rebuild\` ADD CONSTRAINT \`FK_73d472681f17bb9d38b0f594cc1\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
    // Lists that older rows had no value for; new rows always bring their own.
    for (const [table, field] of [
      ['shape', 'encapsulations'],
      ['cluster', 'podWishes'],
      ['cluster', 'growthSteps'],
    ])
      await queryRunner.query(`ALTER TABLE \`${table}\` ALTER COLUMN \`${field}\` DROP DEFAULT`);
    for (const [table, fields] of Object.entries(values)) {
      const columns = Object.keys(fields).map((field) => `\`${field}\` = ?`);
      await queryRunner.query(`UPDATE \`${table}\` SET ${columns.join(', ')}`, Object.values(fields));
    }
    await queryRunner.query('ALTER TABLE `cluster` DROP CONSTRAINT `cluster_counts`');
    for (const [table, name, condition] of checks)
      await queryRunner.query(`ALTER TABLE \`${table}\` ADD CONSTRAINT \`${name}\` CHECK (${condition})`);
    await completeHistory(queryRunner);
  }

  public async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query('ALTER TABLE `cluster` DROP CONSTRAINT `cluster_counts`');
    await queryRunner.query(
      'ALTER TABLE `cluster` ADD CONSTRAINT `cluster_counts` CHECK (`nodesNow` >= 0 AND `nodesHorizon` >= 1 AND `podsPerNode` >= 1 AND `services` >= 0)',
    );
    await queryRunner.query(`ALTER TABLE \`rebuild\` DROP FOREIGN KEY \`FK_73d472681f17bb9d38b0f594cc1\``);
    await queryRunner.query(`ALTER TABLE \`rebuild\` DROP FOREIGN KEY \`FK_4f77da4f7df7050bb490c15b39b\``);
    await queryRunner.query(`ALTER TABLE \`node_pool\` DROP FOREIGN KEY \`FK_e6d271ff20e80293bec9e23e016\``);
    await queryRunner.query(`ALTER TABLE \`node_pool\` DROP FOREIGN KEY \`FK_442d83404cee88ddc9f32852ed7\``);
    await queryRunner.query(`ALTER TABLE \`node_pool\` DROP FOREIGN KEY \`FK_75da853ac26517a3d455efa93be\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP FOREIGN KEY \`FK_53b2942fde7a25ca65c37e6e376\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP FOREIGN KEY \`FK_488685b634e425c6eed3bbefa84\``);
    await queryRunner.query(`ALTER TABLE \`template\` DROP FOREIGN KEY \`FK_0ec79568374250895ecbd2be12d\``);
    await queryRunner.query(`ALTER TABLE \`template\` DROP FOREIGN KEY \`FK_3069147100e71b27ac368601a5b\``);
    await queryRunner.query(`ALTER TABLE \`template\` DROP FOREIGN KEY \`FK_cfc0f93d2f2f5ee8f1452ad0762\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`outGb\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`zoneGb\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`snatPorts\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`natAddresses\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`hasPublicBalancers\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`headlessServices\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`balancerServices\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`nodePortServices\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`growthSteps\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`growthPerYear\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`growth\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`zoneCount\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`apiEndpoint\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`controlShapeId\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`controlNodes\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`controlPlane\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`podWishes\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`encryption\``);
    await queryRunner.query(`ALTER TABLE \`cluster\` DROP COLUMN \`templateId\``);
    await queryRunner.query(`ALTER TABLE \`shape\` DROP COLUMN \`encapsulations\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`priceOutGb\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`priceZoneGb\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`priceAddress\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`priceNatGb\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`priceNat\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`priceBalancer\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`priceControlPlane\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`publicAddresses\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`membersPerBalancer\``);
    await queryRunner.query(`ALTER TABLE \`profile\` DROP COLUMN \`warmSpare\``);
    await queryRunner.query(`ALTER TABLE \`plan\` DROP COLUMN \`currency\``);
    await queryRunner.query(`ALTER TABLE \`plan\` DROP COLUMN \`weightWishes\``);
    await queryRunner.query(`DROP TABLE \`rebuild\``);
    await queryRunner.query(`DROP INDEX \`IDX_6c898528f65f5327c4dfa6e09a\` ON \`node_pool\``);
    await queryRunner.query(`DROP TABLE \`node_pool\``);
    await queryRunner.query(`DROP INDEX \`IDX_f0cd0bc0b4aea3cdca530e9ab9\` ON \`template\``);
    await queryRunner.query(`DROP TABLE \`template\``);
  }
}
