import { publishedSchema, type CatalogueDocument, type DocumentKind } from "@/core/catalog/documents";
import type { Problem } from "@/core/problem";

/** A document that another one names. */
export interface Named {
  readonly kind: DocumentKind;
  readonly id: string;
}

/** Where in a document it is named: a JSON Pointer (RFC 6901). */
interface NamedAt extends Named {
  readonly path: string;
}

/** The words of JSON Schema 2020-12 that lead to the schema of a part, and our own, which says of which kind a name is. */
interface Schema {
  readonly $ref?: string;
  readonly "x-names"?: DocumentKind;
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly additionalProperties?: Schema | boolean;
  readonly items?: Schema | boolean;
  readonly oneOf?: readonly Schema[];
  readonly anyOf?: readonly Schema[];
  readonly allOf?: readonly Schema[];
}

/** A schema with the file that it stands in: `#` in a reference means that file. */
interface Place {
  readonly schema: Schema;
  readonly file: string;
}

const isObject = (value: unknown): value is Readonly<Record<string, unknown>> =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** What a reference means (RFC 3986, 5; RFC 6901): another file, a place in it, or a place in the same. */
function follow(ref: string, file: string): Place {
  const [name = "", pointer = ""] = ref.split("#");
  const target = name === "" ? file : name;
  let schema: unknown = publishedSchema(target);
  for (const step of pointer.split("/").slice(1))
    schema = isObject(schema) ? schema[step.replaceAll("~1", "/").replaceAll("~0", "~")] : undefined;
  if (!isObject(schema)) throw new Error(`a published schema refers to nothing: ${ref} in ${file}`);
  return { schema, file: target };
}

/** All that a schema says of a value itself: what it refers to, and what it is put together of. */
function* saidOf({ schema, file }: Place): Generator<Place> {
  yield { schema, file };
  if (schema.$ref !== undefined) yield* saidOf(follow(schema.$ref, file));
  for (const part of [schema.oneOf, schema.anyOf, schema.allOf].flatMap((parts) => parts ?? []))
    yield* saidOf({ schema: part, file });
}

const childrenOf = ({ schema }: Place): Schema[] =>
  [
    ...Object.values(schema.properties ?? {}),
    ...[schema.additionalProperties, schema.items].filter((each) => isObject(each)),
  ] as Schema[];

/** Whether anything under a schema names a document: most of a release is values, and is not walked. */
const naming = new Map<Schema, boolean>();
function namesAny(place: Place): boolean {
  const known = naming.get(place.schema);
  if (known !== undefined) return known;
  // a schema that contains itself adds nothing to what it names
  naming.set(place.schema, false);
  const found = [...saidOf(place)].some(
    (said) =>
      said.schema["x-names"] !== undefined || childrenOf(said).some((schema) => namesAny({ schema, file: said.file })),
  );
  naming.set(place.schema, found);
  return found;
}

function* walk(value: unknown, place: Place, path: string): Generator<NamedAt> {
  if (!namesAny(place)) return;
  for (const { schema, file } of saidOf(place)) {
    const kind = schema["x-names"];
    if (kind !== undefined && typeof value === "string") yield { kind, id: value, path };
    if (Array.isArray(value)) {
      const { items } = schema;
      if (!isObject(items)) continue;
      for (const [i, each] of value.entries()) yield* walk(each, { schema: items, file }, `${path}/${i}`);
    } else if (isObject(value))
      for (const [key, each] of Object.entries(value)) {
        // a document's key may be called as what every object has
        const own = schema.properties && Object.hasOwn(schema.properties, key) ? schema.properties[key] : undefined;
        const child = own ?? schema.additionalProperties;
        const step = key.replaceAll("~", "~0").replaceAll("/", "~1");
        if (isObject(child)) yield* walk(each, { schema: child, file }, `${path}/${step}`);
      }
  }
}

/** Wherever a document names another one, as its published schema says (`x-names`). */
function* everyName(document: CatalogueDocument): Generator<NamedAt> {
  const file = `${document.document}.schema.json`;
  yield* walk(document, { schema: publishedSchema(file), file }, "");
}

/** The documents that a document names, each once: what it is written on top of, leads from, speaks, is laid out as and runs on. */
export function namedBy(document: CatalogueDocument): Named[] {
  const byName = new Map<string, Named>();
  for (const { kind, id } of everyName(document)) byName.set(`${kind} ${id}`, { kind, id });
  return [...byName.values()];
}

const SAYS: Readonly<Record<DocumentKind, string>> = {
  processor: "a processor",
  "board-model": "a board",
  idiom: "an idiom",
  release: "a release",
  "part-release": "a release of another part",
  layout: "a layout",
};

/** The first name in a document that leads nowhere among all that there are; undefined where each leads somewhere. */
export function danglingIn(document: CatalogueDocument, all: readonly CatalogueDocument[]): Problem | undefined {
  for (const { kind, id, path } of everyName(document)) {
    const known = all.filter((each) => each.document === kind).map((each) => each.id);
    if (known.includes(id)) continue;
    return {
      code: "document-dangling",
      message: `${document.id} names ${SAYS[kind]} that the workshop does not have`,
      detail: `${id}; there are ${known.join(", ") || "none"}`,
      hint: "Import that first, or both together as a pack",
      where: { path },
    };
  }
  return undefined;
}
