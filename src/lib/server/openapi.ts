import { z } from 'zod';
import { faultSchema, type Endpoint } from './api.ts';
import { ENDPOINTS } from './endpoints.ts';
import { VERSION } from './version.ts';

const schemaOf = (schema: z.ZodType, io: 'input' | 'output'): unknown => {
  const { $schema: _, ...rest } = z.toJSONSchema(schema, { io, unrepresentable: 'any' }) as Record<string, unknown>;
  return rest;
};

/** OpenAPI 3.1 description of the routes, made from the same schemas that check them. */
export function openapi(): unknown {
  const paths: Record<string, Record<string, unknown>> = {};
  for (const endpoint of Object.values(ENDPOINTS) as Endpoint<z.ZodType, z.ZodType>[]) {
    const { method, path, summary, body, file, params, query, answer, status = 200 } = endpoint;
    const given = [
      ...Object.entries(params ?? {}).map(([name, schema]) => ({
        name,
        in: 'path',
        required: true,
        schema: schemaOf(schema, 'input'),
      })),
      ...Object.entries(query ?? {}).map(([name, schema]) => ({
        name,
        in: 'query',
        required: false,
        schema: schemaOf(schema, 'input'),
      })),
    ];
    const binary = { 'application/zip': { schema: { type: 'string', format: 'binary' } } };
    paths[path] ??= {};
    paths[path][method.toLowerCase()] = {
      summary,
      ...(given.length > 0 ? { parameters: given } : {}),
      ...(file === 'body'
        ? {
            requestBody: {
              required: true,
              content: { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } },
            },
          }
        : {}),
      ...(body
        ? { requestBody: { required: true, content: { 'application/json': { schema: schemaOf(body, 'input') } } } }
        : {}),
      responses: {
        [status]: {
          description: 'Done',
          content: file === 'answer' ? binary : { 'application/json': { schema: schemaOf(answer, 'output') } },
        },
        default: {
          description: 'What is wrong, where, and the remedy',
          content: { 'application/json': { schema: schemaOf(faultSchema, 'output') } },
        },
      },
    };
  }
  return { openapi: '3.1.0', info: { title: 'Amber Kite', version: VERSION, license: { name: 'MIT' } }, paths };
}
