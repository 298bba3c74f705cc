/** The description for programs, OpenAPI 3.1: made from the operations and their schemas, nothing of it written by hand twice. */
import { z } from 'zod';
import { studyNames, studySummaries } from '@mesura/cli/words';
import { permissions, scopeOf, type ProgramRoute } from '../people/permissions';
import { operations, studyBodies, type Described, type Operation } from './operations';
import { problemType } from '../problem';

type Json = Readonly<Record<string, unknown>>;

const schemaOf = (schema: z.ZodType, io: 'input' | 'output'): Json => {
  const { $schema: _, ...rest } = z.toJSONSchema(schema, { io, unrepresentable: 'any' });
  return rest;
};

const problem = { $ref: '#/components/responses/problem' };

const paramsOf = (path: string): Json[] =>
  [...path.matchAll(/:(\w+)/g)].map(([, name]) => ({ name, in: 'path', required: true, schema: { type: 'string' } }));

function queryOf(query: z.ZodObject | undefined): Json[] {
  if (!query) return [];
  const { properties = {}, required = [] } = schemaOf(query, 'input') as {
    properties?: Record<string, Json>;
    required?: readonly string[];
  };
  return Object.entries(properties).map(([name, { description, ...schema }]) => ({
    name,
    in: 'query',
    ...(description !== undefined && { description }),
    required: required.includes(name),
    schema,
  }));
}

const answerOf = ({ means, schema, type }: Described): Json => ({
  description: means,
  content: schema
    ? { 'application/json': { schema: schemaOf(schema, 'output') } }
    : { [type!]: { schema: type === 'application/json' ? {} : { type: 'string', format: 'binary' } } },
});

function bodyOf(body: Operation['body']): Json {
  if (!body) return {};
  const content =
    body === 'file'
      ? { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } }
      : { 'application/json': { schema: schemaOf(body, 'input') } };
  return { requestBody: { required: true, content } };
}

function operationOf(route: ProgramRoute, operation: Operation, path: string, id: string): Json {
  const { summary, about, query, heads = {}, body, answers } = operation;
  const isOpen = permissions[route] === 'anyone';
  return {
    operationId: id,
    summary,
    tags: [about],
    parameters: [
      ...paramsOf(path),
      ...queryOf(query),
      ...Object.entries(heads).map(([name, description]) => ({
        name,
        in: 'header',
        description,
        schema: { type: 'string' },
      })),
    ],
    ...bodyOf(body),
    responses: { ...Object.fromEntries(answers.map((each) => [each.status, answerOf(each)])), default: problem },
    security: isOpen ? [] : [{ token: [scopeOf[route]] }],
  };
}

/** "GET /api/v1/projects/:id" as "getProjectsId". */
const idOf = (method: string, path: string): string =>
  method.toLowerCase() +
  path
    .replace('/api/v1', '')
    .split(/[^A-Za-z0-9]+/)
    .filter(Boolean)
    .map((word) => word[0].toUpperCase() + word.slice(1))
    .join('');

export function openApi(): Json {
  const paths: Record<string, Record<string, Json>> = {};
  const put = (method: string, path: string, operation: Json) =>
    ((paths[path.replaceAll(/:(\w+)/g, '{$1}')] ??= {})[method.toLowerCase()] = operation);
  for (const [route, operation] of Object.entries(operations) as [ProgramRoute, Operation][]) {
    const [method, path] = route.split(' ');
    if (!path.endsWith('/:study')) {
      put(method, path, operationOf(route, operation, path, idOf(method, path)));
      continue;
    }
    for (const study of studyNames) {
      const own = path.replace(':study', study);
      put(
        method,
        own,
        operationOf(
          route,
          { ...operation, summary: `Study: ${studySummaries[study]}`, body: studyBodies[study] },
          own,
          `study${study[0].toUpperCase()}${study.slice(1)}`,
        ),
      );
    }
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Mesura',
      version: '1',
      description:
        'Projects, studies and files for programs. The studies and their options are those of the terminal, by the same words. Who signs in at the desk makes a token there (My account) and sends it as "Authorization: Bearer …"; on one’s own desk no token is needed.',
    },
    servers: [{ url: '/' }],
    paths,
    components: {
      securitySchemes: {
        token: { type: 'http', scheme: 'bearer', description: 'A token for "read", "study" or "change"' },
      },
      responses: {
        problem: {
          description: 'A problem document (RFC 9457)',
          content: {
            [problemType]: {
              schema: schemaOf(
                z.looseObject({
                  type: z.string(),
                  title: z.string(),
                  status: z.int(),
                  detail: z.string(),
                  code: z.string().describe('the last word of the type, for programs'),
                }),
                'output',
              ),
            },
          },
        },
      },
    },
  };
}
