import { createRequire } from 'node:module';
import type { validationMetadatasToSchemas } from 'class-validator-jsonschema';

type Storage = NonNullable<
  NonNullable<Parameters<typeof validationMetadatasToSchemas>[0]>['classTransformerMetadataStorage']
>;

/**
 * What class-transformer knows of the types of nested fields. Its package exports the storage
 * from a file without declarations only.
 */
export const nestedTypes = (
  createRequire(__filename)('class-transformer/cjs/storage') as { defaultMetadataStorage: Storage }
).defaultMetadataStorage;
