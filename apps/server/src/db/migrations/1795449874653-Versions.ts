import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Named versions of a plan. */
export class Versions1795449874653 implements MigrationInterface {
  name = 'Versions1795449874653';

  public async up(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(
      `CREATE TABLE \`plan_version\` (\`planId\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`id\` char(36) CHARACTER SET "ascii" COLLATE "ascii_bin" NOT NULL, \`name\` varchar(80) COLLATE "utf8mb4_bin" NOT NULL, \`revision\` int NOT NULL, \`author\` varchar(80) NOT NULL, \`createdAt\` datetime(3) NOT NULL DEFAULT CURRENT_TIMESTAMP(3), UNIQUE INDEX \`IDX_531457925bbe0b4e80b6020b7a\` (\`planId\`, \`name\`), PRIMARY KEY (\`planId\`, \`id\`)) ENGINE=InnoDB`,
    );
    await queryRunner.query(
      `ALTER TABLE \`plan_version\` ADD CONSTRAINT \`FK_d2260f31e63f1af8ec365795ae8\` FOREIGN KEY (\`planId\`) REFERENCES \`plan\`(\`id\`) ON DELETE CASCADE ON UPDATE NO ACTION`,
    );
  }

  public async down(queryRunner: QueryRunner): Promise<void> {
    await queryRunner.query(`ALTER TABLE \`plan_version\` DROP FOREIGN KEY \`FK_d2260f31e63f1af8ec365795ae8\``);
    await queryRunner.query(`DROP INDEX \`IDX_531457925bbe0b4e80b6020b7a\` ON \`plan_version\``);
    await queryRunner.query(`DROP TABLE \`plan_version\``);
  }
}
