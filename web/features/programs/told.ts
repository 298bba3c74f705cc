/** The description for programs in the order and the words in which people read it. */
interface Schema {
  readonly type?: string | readonly string[];
  readonly enum?: readonly unknown[];
  readonly items?: Schema;
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly required?: readonly string[];
  readonly anyOf?: readonly Schema[];
  readonly oneOf?: readonly Schema[];
  readonly description?: string;
}

interface Operation {
  readonly operationId: string;
  readonly summary: string;
  readonly tags: readonly string[];
  readonly parameters: readonly {
    readonly name: string;
    readonly in: string;
    readonly required?: boolean;
    readonly description?: string;
    readonly schema: Schema;
  }[];
  readonly requestBody?: { readonly content: Readonly<Record<string, { readonly schema: Schema }>> };
  readonly responses: Readonly<
    Record<string, { readonly description?: string; readonly content?: Readonly<Record<string, unknown>> }>
  >;
  readonly security: readonly Readonly<Record<string, readonly string[]>>[];
}

export interface Description {
  readonly openapi: string;
  readonly info: { readonly description: string };
  readonly paths: Readonly<Record<string, Readonly<Record<string, Operation>>>>;
}

export interface Field {
  readonly name: string;
  readonly place: string;
  readonly type: string;
  readonly means: string;
  readonly isRequired: boolean;
}

export interface Told {
  readonly id: string;
  readonly method: string;
  readonly path: string;
  readonly summary: string;
  readonly scope: string | null;
  readonly takesFile: boolean;
  readonly fields: readonly Field[];
  readonly answers: readonly { readonly status: string; readonly means: string; readonly type: string }[];
}

export function operationsIn({ paths }: Description): { group: string; operations: Told[] }[] {
  const groups = new Map<string, Told[]>();
  for (const [path, methods] of Object.entries(paths))
    for (const [method, operation] of Object.entries(methods)) {
      const [group] = operation.tags;
      groups.set(group, [...(groups.get(group) ?? []), told(method.toUpperCase(), path, operation)]);
    }
  return [...groups].map(([group, operations]) => ({ group, operations }));
}

function told(method: string, path: string, operation: Operation): Told {
  const { operationId, summary, parameters, requestBody, responses, security } = operation;
  const body = requestBody?.content['application/json']?.schema;
  return {
    id: operationId,
    method,
    path,
    summary,
    scope: security[0]?.token?.[0] ?? null,
    takesFile: requestBody !== undefined && body === undefined,
    fields: [
      ...parameters.map(({ name, in: place, required = false, description = '', schema }) => ({
        name,
        place: { path: 'address', query: 'query', header: 'head' }[place] ?? place,
        type: typeOf(schema),
        means: description,
        isRequired: required,
      })),
      ...(body ? fieldsOf(body, '') : []),
    ],
    answers: Object.entries(responses)
      .filter(([status]) => status !== 'default')
      .map(([status, { description = '', content = {} }]) => ({
        status,
        means: description,
        type: Object.keys(content).join(', '),
      })),
  };
}

/** Fields of a body; those of an object within it by their way. */
function fieldsOf({ properties = {}, required = [] }: Schema, before: string): Field[] {
  return Object.entries(properties).flatMap(([name, schema]) =>
    schema.properties
      ? fieldsOf(schema, `${before}${name}.`)
      : [
          {
            name: `${before}${name}`,
            place: 'body',
            type: typeOf(schema),
            means: schema.description ?? '',
            isRequired: required.includes(name),
          },
        ],
  );
}

function typeOf(schema: Schema): string {
  const { type, enum: values, items, anyOf, oneOf } = schema;
  if (values) return values.map(String).join(' | ');
  if (anyOf ?? oneOf) return (anyOf ?? oneOf)!.map(typeOf).join(' or ');
  if (type === 'array') return `list of ${items ? typeOf(items) : 'anything'}`;
  const words = { string: 'text', integer: 'whole number', boolean: 'true | false' } as Record<string, string>;
  return [type ?? 'anything']
    .flat()
    .map((each) => words[each] ?? each)
    .join(' or ');
}
