import { boolean, lazy, mixed, number, object, string, type AnySchema, type Schema } from "yup";
import { LOADER_SETTINGS, type LoaderField } from "@/core/catalog/loaders";

/** Values of a loader by their fields' names, each in the group that its name says: “letters.read” under `letters`. */
export function inGroups(
  fields: readonly LoaderField[],
  valueOf: (field: LoaderField) => unknown,
): Record<string, unknown> {
  const all: Record<string, unknown> = {};
  for (const field of fields) {
    const value = valueOf(field);
    if (value === undefined) continue;
    const at = field.name.indexOf(".");
    if (at < 0) all[field.name] = value;
    else {
      const group = field.name.slice(0, at);
      all[group] = { ...(all[group] as object | undefined), [field.name.slice(at + 1)]: value };
    }
  }
  return all;
}

/** The fields of one object as its schema, those in groups as objects of their own; `more`: what stands beside them. */
export function shapeFrom(
  fields: readonly LoaderField[],
  shapeOf: (field: LoaderField) => AnySchema,
  more: Record<string, AnySchema> = {},
): Schema<object> {
  const own = new Set(fields.map(({ name }) => name));
  const shapes = Object.entries(inGroups(fields, shapeOf)).map(([name, shape]) => [
    name,
    own.has(name) ? shape : object(shape as Record<string, AnySchema>).required(),
  ]);
  return object({ ...more, ...(Object.fromEntries(shapes) as Record<string, AnySchema>) });
}

function schemaOf(field: LoaderField): Schema {
  switch (field.is) {
    case "number": {
      const shape = number()
        .strict()
        .integer()
        .min(field.least ?? 0)
        .max(field.most);
      return field.optional ? shape : shape.required();
    }
    case "text": {
      const shape = string().strict().min(1).max(field.most);
      return field.optional ? shape : shape.required();
    }
    case "flag":
      return boolean().strict().required();
  }
}

const SHAPES: ReadonlyMap<unknown, Schema> = new Map(
  LOADER_SETTINGS.map(({ kind, fields }) => [
    kind,
    shapeFrom(fields, schemaOf, { kind: string().oneOf([kind]).required() }),
  ]),
);
const KINDS = LOADER_SETTINGS.map(({ kind }) => kind);

/** One of the loaders that a processor can have, by its kind. */
export const loaderShape = lazy(
  (value: unknown) =>
    SHAPES.get((value as { readonly kind?: unknown } | null | undefined)?.kind) ??
    mixed().test("kind", `A loader is of kind ${KINDS.join(", ")}`, () => false),
);
