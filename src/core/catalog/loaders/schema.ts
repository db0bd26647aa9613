import { LOADER_SETTINGS, type LoaderField, type LoaderSettings } from "@/core/catalog/loaders";

const typeOf = (field: LoaderField): object => {
  const said = field.says === undefined ? {} : { description: field.says };
  switch (field.is) {
    case "number":
      return { type: "integer", minimum: field.least ?? 0, maximum: field.most, ...said };
    case "text":
      return { type: "string", ...(field.least === 0 ? {} : { minLength: 1 }), maxLength: field.most, ...said };
    case "flag":
      return { type: "boolean", ...said };
  }
};

const objectOf = (fields: readonly LoaderField[], first: object, says?: string): object => {
  const names = [...new Set(fields.map(({ name }) => name.split(".")[0] ?? name))];
  const inGroup = (name: string) => fields.filter((field) => field.name.startsWith(`${name}.`));
  const properties = names.map((name) => {
    const group = inGroup(name).map((field) => ({ ...field, name: field.name.slice(name.length + 1) }));
    const own = fields.find((field) => field.name === name);
    return [name, own ? typeOf(own) : objectOf(group, {})] as const;
  });
  const wanted = names.filter((name) => fields.find((field) => field.name === name)?.optional !== true);
  return {
    type: "object",
    ...(says === undefined ? {} : { description: says }),
    required: [...Object.keys(first), ...wanted],
    additionalProperties: false,
    properties: { ...first, ...Object.fromEntries(properties) },
  };
};

const schemaOf = ({ kind, says, fields }: LoaderSettings): object => objectOf(fields, { kind: { const: kind } }, says);

/** What the published schema of a processor says of its loaders (JSON Schema 2020-12): one of the kinds that there are. */
export const loaderSchemas = (): object[] => LOADER_SETTINGS.map(schemaOf);
