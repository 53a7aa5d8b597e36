/** The names of all steps of the schema, oldest first; `index.ts` has the steps themselves. */
export const MIGRATION_NAMES: readonly string[] = [
  'Migration202611250001',
  'Migration202611250002',
  'Migration202611250003',
  'Migration202611250004',
  'Migration202611270001',
  'Migration202611270002',
  'Migration202611280001',
  'Migration202611280002',
  'Migration202611280003',
  'Migration202611280004',
  'Migration202611280005',
];
