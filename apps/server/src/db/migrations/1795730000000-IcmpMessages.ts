import type { MigrationInterface, QueryRunner } from 'typeorm';
import { completeHistory } from './completeHistory.js';

const tables = ['filter_rule', 'firewall_rule'];

/** Rules tell messages of ICMP apart; until now they were about all of them. */
export class IcmpMessages1795730000000 implements MigrationInterface {
  name = 'IcmpMessages1795730000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    for (const table of tables) {
      await queryRunner.query(`ALTER TABLE \`${table}\` ADD COLUMN IF NOT EXISTS \`icmp\` json NOT NULL DEFAULT '[]'`);
      await queryRunner.query(`ALTER TABLE \`${table}\` ALTER COLUMN \`icmp\` DROP DEFAULT`);
    }
    await completeHistory(queryRunner);
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    for (const table of tables) await queryRunner.query(`ALTER TABLE \`${table}\` DROP COLUMN \`icmp\``);
  }
}
