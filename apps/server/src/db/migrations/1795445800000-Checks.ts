import type { MigrationInterface, QueryRunner } from 'typeorm';

const checks: readonly [table: string, name: string, condition: string][] = [
  ...['pool', 'in_use', 'allocation'].map((table): [string, string, string] => [
    table,
    `${table}_range`,
    '`family` IN (4, 6) AND `firstAddress` <= `lastAddress` AND `prefixLength` <= IF(`family` = 4, 32, 128)',
  ]),
  ['cluster', 'cluster_counts', '`nodesNow` >= 0 AND `nodesHorizon` >= 1 AND `podsPerNode` >= 1 AND `services` >= 0'],
  ['cluster', 'cluster_surge', '`surgePercent` BETWEEN 0 AND 100'],
  ['profile', 'profile_reserved', '`reservedFirst` >= 1 AND `reservedLast` >= 1'],
  ['plan', 'plan_horizon', '`horizonMonths` BETWEEN 1 AND 120'],
  ['link_member', 'link_member_position', '`position` >= 0'],
];

/** Conditions the database holds on its own; TypeORM has no notation for them with MariaDB. */
export class Checks1795445800000 implements MigrationInterface {
  name = 'Checks1795445800000';

  async up(queryRunner: QueryRunner): Promise<void> {
    for (const [table, name, condition] of checks) {
      await queryRunner.query(`ALTER TABLE \`${table}\` ADD CONSTRAINT \`${name}\` CHECK (${condition})`);
    }
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    for (const [table, name] of [...checks].reverse())
      await queryRunner.query(`ALTER TABLE \`${table}\` DROP CONSTRAINT \`${name}\``);
  }
}
