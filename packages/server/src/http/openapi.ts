import { paths } from '@varn/contract';
import type { INestApplication } from '@nestjs/common';
import { DocumentBuilder, SwaggerModule, type OpenAPIObject } from '@nestjs/swagger';
import { validationMetadatasToSchemas } from 'class-validator-jsonschema';
import { nestedTypes } from './nestedTypes';
import { VERSION } from '../version';

type Schemas = NonNullable<NonNullable<OpenAPIObject['components']>['schemas']>;

/** The OpenAPI document: routes from the controllers, shapes from the contract's classes. */
export function openApiDocument(app: INestApplication): OpenAPIObject {
  const config = new DocumentBuilder()
    .setTitle('Varn')
    .setDescription('Data-entry forms that write rows into workbook sheets.')
    .setVersion(VERSION)
    .addCookieAuth('varn_session')
    .build();
  const document = SwaggerModule.createDocument(app, config);
  const shapes = validationMetadatasToSchemas({
    classTransformerMetadataStorage: nestedTypes,
    refPointerPrefix: '#/components/schemas/',
    additionalConverters: {
      isTextMap: { type: 'object', additionalProperties: { type: 'string' } },
      isMapOf: { type: 'object' },
      isSettings: { type: 'object' },
      isListSettings: { type: 'object' },
      isRules: { type: 'array', items: { type: 'object' } },
      isDefinition: { type: 'object' },
      arePlannedColumns: { type: 'array', items: { type: 'object' } },
      isNotBlank: { pattern: '\\S' },
    },
  }) as Schemas;
  document.components = {
    ...document.components,
    schemas: { ...document.components?.schemas, ...shapes },
  };
  return document;
}

/** Serves the document to anyone. */
export function serveOpenApi(app: INestApplication): void {
  let document: OpenAPIObject | undefined;
  SwaggerModule.setup('/api/docs', app, () => (document ??= openApiDocument(app)), {
    ui: false,
    jsonDocumentUrl: paths.openapi,
    raw: ['json'],
  });
}
