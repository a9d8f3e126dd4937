/** Reads the JSON Schema of parts, so that forms are drawn from the core's own fields, units and ranges. */
export interface Schema {
  type?: string;
  title?: string;
  unit?: string;
  minimum?: number;
  maximum?: number;
  maxLength?: number;
  enum?: string[];
  const?: string;
  format?: string;
  default?: unknown;
  anyOf?: Schema[];
  allOf?: Schema[];
  items?: Schema;
  $ref?: string;
  properties?: Record<string, Schema>;
  required?: string[];
  $defs?: Record<string, Schema>;
  discriminator?: { mapping: Record<string, string> };
  additionalProperties?: unknown;
}

export interface Field {
  name: string;
  title: string;
  schema: Schema;
  nullable: boolean;
  required: boolean;
}

export function resolve(schema: Schema, root: Schema): Schema {
  const ref = schema.$ref ?? schema.allOf?.[0]?.$ref;
  if (!ref) return schema;
  const found = root.$defs?.[ref.replace("#/$defs/", "")] ?? {};
  return { ...found, ...(schema.title ? { title: schema.title } : {}) };
}

export function fieldsOf(schema: Schema, root: Schema): Field[] {
  return Object.entries(schema.properties ?? {}).map(([name, given]) => {
    const branch = given.anyOf?.find((entry) => entry.type !== "null");
    const nullable = given.anyOf?.some((entry) => entry.type === "null") ?? false;
    const whole = resolve({ ...(branch ?? given) }, root);
    const title = given.title ?? whole.title ?? name;
    return {
      name,
      title: given.title || !whole.properties ? title : words(name),
      schema: { ...whole, unit: given.unit ?? whole.unit, title },
      nullable,
      required: schema.required?.includes(name) ?? false,
    };
  });
}

export const words = (name: string): string => {
  const spoken = name.replace(/_(mm|g|deg|um|px|e|v|w|kg)$/, "").replaceAll("_", " ");
  return spoken.charAt(0).toUpperCase() + spoken.slice(1);
};

/** What an object of this schema starts with. */
export function blank(schema: Schema, root: Schema): Record<string, unknown> {
  const made: Record<string, unknown> = {};
  for (const field of fieldsOf(schema, root)) {
    if (field.schema.const !== undefined) made[field.name] = field.schema.const;
    else if (field.schema.default !== undefined) made[field.name] = field.schema.default;
    else if (field.nullable) made[field.name] = null;
    else if (field.schema.enum) made[field.name] = field.schema.enum[0];
    else if (field.schema.properties) made[field.name] = blank(field.schema, root);
    else if (field.schema.type === "boolean") made[field.name] = false;
  }
  return made;
}
