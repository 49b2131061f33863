import type { MigrationInterface, QueryRunner } from 'typeorm';

const UNIQUE = '`IDX_01dfa9c0a3023044dbd9445301` (`planId`, `zoneId`, `name`, `type`, `value`)';

const OF_ZONE = '`IDX_0b955091d0727b7047afeca16e`';

/** Records are held as long as zone files have them, and serials to their largest number (RFC 1035 3.3.13). */
export class WholeRecords1795710000000 implements MigrationInterface {
  name = 'WholeRecords1795710000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query('ALTER TABLE `zone` MODIFY `serial` int UNSIGNED NOT NULL');
    // Beyond 3,072 octets the server keeps what is unique by a hash, which finds no zone: that has an index of its own.
    await queryRunner.query(
      `ALTER TABLE \`dns_record\` DROP INDEX IF EXISTS \`IDX_01dfa9c0a3023044dbd9445301\`, ADD INDEX IF NOT EXISTS ${OF_ZONE} (\`planId\`, \`zoneId\`), MODIFY \`value\` varchar(4000) COLLATE "utf8mb4_bin" NOT NULL, ADD UNIQUE INDEX ${UNIQUE}`,
    );
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query('DELETE FROM `dns_record` WHERE CHAR_LENGTH(`value`) > 480');
    await queryRunner.query(
      `ALTER TABLE \`dns_record\` DROP INDEX IF EXISTS \`IDX_01dfa9c0a3023044dbd9445301\`, DROP INDEX ${OF_ZONE}, MODIFY \`value\` varchar(480) COLLATE "utf8mb4_bin" NOT NULL, ADD UNIQUE INDEX ${UNIQUE}`,
    );
    await queryRunner.query('UPDATE `zone` SET `serial` = LEAST(`serial`, 2147483647)');
    await queryRunner.query('ALTER TABLE `zone` MODIFY `serial` int NOT NULL');
  }
}
