import type { MigrationObject } from '@mikro-orm/core';
import { Migration202611250001 } from './migration202611250001';
import { Migration202611250002 } from './migration202611250002';
import { Migration202611250003 } from './migration202611250003';
import { Migration202611250004 } from './migration202611250004';
import { Migration202611270001 } from './migration202611270001';
import { Migration202611270002 } from './migration202611270002';
import { Migration202611280001 } from './migration202611280001';
import { Migration202611280002 } from './migration202611280002';
import { Migration202611280003 } from './migration202611280003';
import { Migration202611280004 } from './migration202611280004';
import { Migration202611280005 } from './migration202611280005';

/** Every step of the schema, oldest first. A step that was released is never changed. */
export const MIGRATIONS: MigrationObject[] = [
  { name: 'Migration202611250001', class: Migration202611250001 },
  { name: 'Migration202611250002', class: Migration202611250002 },
  { name: 'Migration202611250003', class: Migration202611250003 },
  { name: 'Migration202611250004', class: Migration202611250004 },
  { name: 'Migration202611270001', class: Migration202611270001 },
  { name: 'Migration202611270002', class: Migration202611270002 },
  { name: 'Migration202611280001', class: Migration202611280001 },
  { name: 'Migration202611280002', class: Migration202611280002 },
  { name: 'Migration202611280003', class: Migration202611280003 },
  { name: 'Migration202611280004', class: Migration202611280004 },
  { name: 'Migration202611280005', class: Migration202611280005 },
];
