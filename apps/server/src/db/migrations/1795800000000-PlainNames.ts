import { fieldsOf14, kindOf14 } from '@wide-lattice/core/exchange';
import type { Operation } from '@wide-lattice/core/plan';
import type { MigrationInterface, QueryRunner } from 'typeorm';
import { completed, rewriteHistory } from './completeHistory.js';

const tables: readonly (readonly [before: string, now: string])[] = [
  ['run', 'reservation'],
  ['keeper', 'record_controller'],
  ['forward', 'forwarding_rule'],
];

const columns: readonly (readonly [table: string, before: string, now: string])[] = [
  ['plan', 'expectsJoins', 'expectsMergers'],
  ['plan', 'weightJoinCost', 'weightConnectionCost'],
  ['plan', 'weightJoinEffort', 'weightConnectionEffort'],
  ['plan', 'weightJoinRanges', 'weightConnectionRanges'],
  ['plan', 'weightJoinReach', 'weightConnectionReach'],
  ['plan', 'weightJoinSurvival', 'weightConnectionSurvival'],
  ['plan', 'weightJoinWire', 'weightConnectionWire'],
  ['plan', 'weightWishes', 'weightPreferences'],
  ['allocation', 'isFixed', 'isPinned'],
  ['attachment', 'learns', 'accepts'],
  ['attachment', 'learnsFromIds', 'acceptsFromIds'],
  ['cluster', 'keptObjects', 'preservedObjects'],
  ['cluster', 'outGb', 'egressGb'],
  ['cluster', 'podWishes', 'podPreferences'],
  ['connection', 'way', 'method'],
  ['connection', 'mostLinks', 'maxLinks'],
  ['connection', 'keepsSeconds', 'sessionHoldSeconds'],
  ['gateway', 'takesFrom', 'allowedRoutes'],
  ['gateway', 'kept', 'preserved'],
  ['ingress_route', 'form', 'objectKind'],
  ['ingress_route', 'furtherParents', 'additionalParents'],
  ['ingress_route', 'isOldForm', 'isDeprecatedVersion'],
  ['ingress_route', 'kept', 'preserved'],
  ['ingress_route', 'limitBy', 'rateLimitAlgorithm'],
  ['ingress_route', 'perMinute', 'rateLimitPerMinute'],
  ['network_policy', 'kept', 'preserved'],
  ['network', 'egress', 'internetEgress'],
  ['node_pool', 'attachmentSubnetIds', 'additionalInterfaceSubnetIds'],
  ['profile', 'priceOutGb', 'priceEgressGb'],
  ['reference_grant', 'kept', 'preserved'],
  ['service_export', 'kept', 'preserved'],
  ['service_export', 'mostMs', 'maxRoundTripMs'],
  ['service', 'kept', 'preserved'],
  ['subnet', 'wayOut', 'internetEgress'],
  ['template', 'fixes', 'sets'],
  ['workload', 'form', 'objectKind'],
  ['workload', 'kept', 'preserved'],
  ['zone', 'cutOverAim', 'cutOverTarget'],
];

/** Keys are named after their table and columns. */
const uniqueKeys: readonly (readonly [table: string, before: string, now: string])[] = [
  ['reservation', 'IDX_87ef7e1ad21f670532233a08de', 'IDX_c4d737d24389ab527b02d81fa1'],
  ['record_controller', 'IDX_caf70e490b26766c1ecc5e18b2', 'IDX_8f147350d644d02b6a3da07c0d'],
  ['forwarding_rule', 'IDX_ff803e1be74ac1c00b89cb5f3c', 'IDX_1b8e9dd4ecaedd5674dc56324a'],
  ['ingress_route', 'IDX_bf4160e38b2fbb24a1d47b53c5', 'IDX_8b83d0c7b88a5f8ca9ccc9ccb3'],
];

const PLAN = 'FOREIGN KEY (`planId`) REFERENCES `plan`(`id`) ON DELETE CASCADE ON UPDATE NO ACTION';
const CLUSTER =
  'FOREIGN KEY (`planId`, `clusterId`) REFERENCES `cluster`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION';
const RESOLVER =
  'FOREIGN KEY (`planId`, `throughId`) REFERENCES `resolver`(`planId`,`id`) ON DELETE NO ACTION ON UPDATE NO ACTION';

const foreignKeys: readonly (readonly [table: string, before: string, now: string, key: string])[] = [
  ['reservation', 'FK_6b738f78e916b0336efa83e7eef', 'FK_42654f1e3f0a6782955a413791e', PLAN],
  ['reservation', 'FK_7b87211562b04d5c432dab4ef8b', 'FK_62b83b03ce60b830206d1b4bea0', CLUSTER],
  ['record_controller', 'FK_64d14f107f4e54a1a53b82d8cda', 'FK_58fb6758baaaffd7d8e289316b5', PLAN],
  ['record_controller', 'FK_f05ab91d40d66b08cd24d323832', 'FK_6660017ad11043783638f4f7a08', CLUSTER],
  ['forwarding_rule', 'FK_3c5da6757b83995250560720b26', 'FK_acb41282c0e5b60e58275a89e53', PLAN],
  ['forwarding_rule', 'FK_fab138d5d40a4e0920489cff91c', 'FK_96e28a6f5e4eb3d5b40f5078278', RESOLVER],
];

/** Fields and kinds are stored by the names that they have on the screen, in the history too; no value changes. */
export class PlainNames1795800000000 implements MigrationInterface {
  name = 'PlainNames1795800000000';

  async up(queryRunner: QueryRunner): Promise<void> {
    for (const [before, now] of tables) await queryRunner.query(`RENAME TABLE IF EXISTS \`${before}\` TO \`${now}\``);
    for (const [table, before, now] of columns)
      await queryRunner.query(`ALTER TABLE \`${table}\` RENAME COLUMN IF EXISTS \`${before}\` TO \`${now}\``);
    for (const [table, before, now] of uniqueKeys)
      await queryRunner.query(`ALTER TABLE \`${table}\` RENAME INDEX IF EXISTS \`${before}\` TO \`${now}\``);
    for (const [table, before, now, key] of foreignKeys) {
      await queryRunner.query(`ALTER TABLE \`${table}\` DROP FOREIGN KEY IF EXISTS \`${before}\``);
      // The index that the server made for it has its name.
      await queryRunner.query(`ALTER TABLE \`${table}\` RENAME INDEX IF EXISTS \`${before}\` TO \`${now}\``);
      await queryRunner.query(`ALTER TABLE \`${table}\` ADD CONSTRAINT \`${now}\` ${key}`);
    }
    await rewriteHistory(queryRunner, (operations) => completed(operations.map(renamed)));
  }

  async down(queryRunner: QueryRunner): Promise<void> {
    for (const [table, before, now, key] of foreignKeys) {
      await queryRunner.query(`ALTER TABLE \`${table}\` DROP FOREIGN KEY \`${now}\``);
      await queryRunner.query(`ALTER TABLE \`${table}\` RENAME INDEX IF EXISTS \`${now}\` TO \`${before}\``);
      await queryRunner.query(`ALTER TABLE \`${table}\` ADD CONSTRAINT \`${before}\` ${key}`);
    }
    for (const [table, before, now] of uniqueKeys)
      await queryRunner.query(`ALTER TABLE \`${table}\` RENAME INDEX \`${now}\` TO \`${before}\``);
    for (const [table, before, now] of columns)
      await queryRunner.query(`ALTER TABLE \`${table}\` RENAME COLUMN \`${now}\` TO \`${before}\``);
    for (const [before, now] of tables) await queryRunner.query(`RENAME TABLE \`${now}\` TO \`${before}\``);
  }
}

function renamed(operation: Operation): Operation {
  const kind = kindOf14(operation.kind);
  // As it was stored: of a kind and with fields as they were called then.
  const { entity, fields } = operation as {
    readonly entity?: Readonly<Record<string, unknown>>;
    readonly fields?: Readonly<Record<string, unknown>>;
  };
  return {
    ...operation,
    kind,
    ...(entity === undefined ? {} : { entity: fieldsOf14(kind, entity) }),
    ...(fields === undefined ? {} : { fields: fieldsOf14(kind, fields) }),
  } as unknown as Operation;
}
