import * as fc from 'fast-check';

/** The part of JSON Schema that the API's description uses. */
export interface JsonSchema {
  type?: string;
  const?: unknown;
  enum?: unknown[];
  anyOf?: JsonSchema[];
  oneOf?: JsonSchema[];
  properties?: Record<string, JsonSchema>;
  required?: string[];
  propertyNames?: JsonSchema;
  additionalProperties?: JsonSchema | boolean;
  items?: JsonSchema;
  minItems?: number;
  maxItems?: number;
  minimum?: number;
  maximum?: number;
  multipleOf?: number;
  minLength?: number;
  maxLength?: number;
  default?: unknown;
}

const anything = fc.oneof(
  fc.jsonValue({ maxDepth: 2 }),
  fc.constantFrom(null, -1, 1e308, '', '\0', '../../x', '𝐀'.repeat(40)),
);

/** Values that fit a schema mostly: now and then a part is something else altogether, or missing. */
export function fromSchema(schema: JsonSchema | undefined, depth = 0): fc.Arbitrary<unknown> {
  if (!schema || depth > 8) return anything;
  return fc.oneof({ weight: 24, arbitrary: fitting(schema, depth) }, { weight: 1, arbitrary: anything });
}

/** Parts of an object by name: those it lists, or one schema for each of the names it allows. */
function partsOf({ properties, propertyNames, additionalProperties }: JsonSchema): [string, JsonSchema | undefined][] {
  const other = typeof additionalProperties === 'object' ? additionalProperties : undefined;
  const named = (propertyNames?.enum ?? []).map((name): [string, JsonSchema | undefined] => [String(name), other]);
  return [...named, ...Object.entries(properties ?? {})];
}

function fitting(schema: JsonSchema, depth: number): fc.Arbitrary<unknown> {
  const either = schema.anyOf ?? schema.oneOf;
  if (either?.length) return fc.oneof(...either.map((part) => fromSchema(part, depth + 1)));
  if ('const' in schema) return fc.constant(schema.const);
  if (schema.enum?.length) return fc.constantFrom(...schema.enum);
  switch (schema.type) {
    case 'object':
      return fc.record(Object.fromEntries(partsOf(schema).map(([name, part]) => [name, fromSchema(part, depth + 1)])), {
        requiredKeys: schema.required ?? [],
      });
    case 'array':
      return fc.array(fromSchema(schema.items, depth + 1), {
        minLength: schema.minItems ?? 0,
        maxLength: Math.min(schema.maxItems ?? 3, (schema.minItems ?? 0) + 3),
      });
    case 'integer':
    case 'number':
      return number(schema);
    case 'string':
      return fc.string({
        minLength: schema.minLength ?? 0,
        maxLength: Math.min(schema.maxLength ?? 40, (schema.minLength ?? 0) + 40),
        unit: 'grapheme',
      });
    case 'boolean':
      return fc.boolean();
    case 'null':
      return fc.constant(null);
    default:
      return anything;
  }
}

function number({ type, minimum = -1e6, maximum = 1e6, multipleOf }: JsonSchema): fc.Arbitrary<number> {
  const [low, high] = [Math.ceil(Math.max(minimum, -1e9)), Math.floor(Math.min(maximum, 1e9))];
  const whole = fc.oneof(fc.integer({ min: low, max: Math.max(low, high) }), fc.constantFrom(low, high));
  if (multipleOf) return whole.map((n) => Math.round(n / multipleOf) * multipleOf);
  return type === 'integer' ? whole : fc.oneof(whole, fc.double({ min: low, max: Math.max(low, high), noNaN: true }));
}
