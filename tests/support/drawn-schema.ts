import fc from "fast-check";

/** A JSON Schema, as far as the published formats use the language (2020-12). */
interface Schema {
  readonly $ref?: string;
  readonly $defs?: Readonly<Record<string, Schema>>;
  readonly const?: unknown;
  readonly enum?: readonly unknown[];
  readonly type?: string | readonly string[];
  readonly oneOf?: readonly Schema[];
  readonly anyOf?: readonly Schema[];
  readonly allOf?: readonly Schema[];
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly required?: readonly string[];
  readonly additionalProperties?: boolean | Schema;
  readonly propertyNames?: Schema;
  readonly patternProperties?: Readonly<Record<string, Schema>>;
  readonly items?: Schema | boolean;
  readonly prefixItems?: readonly Schema[];
  readonly minItems?: number;
  readonly maxItems?: number;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly exclusiveMinimum?: number;
  readonly minLength?: number;
  readonly maxLength?: number;
  readonly pattern?: string;
}

const without = (schema: Schema, name: keyof Schema): Schema =>
  Object.fromEntries(Object.entries(schema).filter(([each]) => each !== name));

/** What people, and those who mean harm, write where a text is wanted. */
const TEXTS = [
  "a",
  "x",
  "tune",
  "system",
  "gyro.smoothing",
  "{}",
  "a.{}",
  "{name}={value...}",
  "{a}{b}{c}",
  "-- ",
  "=1+1",
  "<b>x</b>",
  "__proto__",
  "constructor",
  "toString",
  "2026-01-01",
  "timer 1 channel 1",
  "port 1 in",
  "heddle-22",
  "statement",
  "Nettle 20",
  "CSLATE-B",
  "poison-1",
  "0",
  "-0",
  "1e308",
  "\u0000",
  "\ud800",
  "é\u0301",
  "x".repeat(39),
  "x".repeat(4000),
] as const;
const NUMBERS = [
  0,
  -0,
  1,
  -1,
  2,
  3,
  7,
  0.1,
  1e-9,
  255,
  256,
  65_535,
  1e6,
  1e15,
  2 ** 53,
  -1e308,
  1e308,
  5e-324,
] as const;

/** Draws values that a schema takes, or nearly: what it asks for beyond this is sieved by whoever reads them. */
export function drawnFrom(
  root: Schema,
  schemas: ReadonlyMap<string, Schema>,
  { part, deepest = 7 }: { readonly part?: string; readonly deepest?: number } = {},
): fc.Arbitrary<unknown> {
  const resolve = (ref: string, from: Schema): { schema: Schema; home: Schema } => {
    const [file = "", pointer = ""] = ref.split("#");
    const home = file === "" ? from : (schemas.get(file) ?? from);
    const found = pointer
      .split("/")
      .slice(1)
      .reduce<unknown>((at, part) => (at as Record<string, unknown> | undefined)?.[part], home);
    return { schema: (pointer === "" ? home : (found as Schema | undefined)) ?? {}, home };
  };
  const text = ({ pattern, minLength = 0, maxLength = 4000 }: Schema): fc.Arbitrary<string> => {
    const fits = (value: string) =>
      value.length >= minLength &&
      value.length <= maxLength &&
      (pattern === undefined || new RegExp(pattern, "u").test(value));
    const known = TEXTS.filter(fits);
    return known.length > 0 ? fc.constantFrom(...known) : fc.constant("a");
  };
  const number = ({ minimum = -Infinity, maximum = Infinity, exclusiveMinimum = -Infinity, type }: Schema) => {
    const fits = (n: number) =>
      n >= minimum && n <= maximum && n > exclusiveMinimum && (type !== "integer" || Number.isInteger(n));
    const known = NUMBERS.filter(fits);
    return known.length > 0 ? fc.constantFrom<number>(...known) : fc.constant(Number.isFinite(minimum) ? minimum : 1);
  };
  const drawn = (schema: Schema, home: Schema, depth: number): fc.Arbitrary<unknown> => {
    if (schema.$ref !== undefined) {
      const next = resolve(schema.$ref, home);
      return drawn(next.schema, next.home, depth);
    }
    if (schema.const !== undefined) return fc.constant(schema.const);
    if (schema.enum) return fc.constantFrom(...schema.enum);
    const ways = schema.oneOf ?? schema.anyOf;
    if (ways) return fc.oneof(...ways.map((way) => drawn({ ...way, ...(way.properties ? {} : {}) }, home, depth)));
    if (schema.allOf)
      return fc
        .tuple(...[without(schema, "allOf"), ...schema.allOf].map((part) => drawn(part, home, depth)))
        .map((parts) => Object.assign({}, ...parts.filter((part) => typeof part === "object")) as unknown);
    const type = Array.isArray(schema.type) ? (schema.type[0] as string) : (schema.type as string | undefined);
    if (type === "string") return text(schema);
    if (type === "number" || type === "integer") return number(schema);
    if (type === "boolean") return fc.boolean();
    if (type === "null") return fc.constant(null);
    if (type === "array" || schema.items !== undefined || schema.prefixItems) {
      const { items, minItems = 0, maxItems = 3, prefixItems = [] } = schema;
      if (prefixItems.length > 0) return fc.tuple(...prefixItems.map((each) => drawn(each, home, depth + 1)));
      const most = depth > deepest ? minItems : Math.min(maxItems, Math.max(minItems, 3));
      return typeof items === "object"
        ? fc.array(drawn(items, home, depth + 1), { minLength: minItems, maxLength: most })
        : fc.constant([]);
    }
    if (type === "object" || schema.properties) {
      const { properties = {}, required = [], additionalProperties, propertyNames } = schema;
      const known = Object.entries(properties).map(([name, each]) => {
        const must = required.includes(name);
        const value = drawn(each, home, depth + 1);
        if (must) return [name, value] as const;
        return [
          name,
          depth > deepest ? fc.constant(undefined) : fc.option(value, { nil: undefined, freq: 1 }),
        ] as const;
      });
      const rest =
        typeof additionalProperties === "object" && depth <= deepest
          ? fc.dictionary(text(propertyNames ?? { maxLength: 20 }), drawn(additionalProperties, home, depth + 1), {
              maxKeys: 3,
            })
          : fc.constant({});
      return fc.tuple(rest, ...known.map(([, value]) => value)).map(([more, ...values]) => ({
        ...more,
        ...Object.fromEntries(known.flatMap(([name], i) => (values[i] === undefined ? [] : [[name, values[i]]]))),
      }));
    }
    return fc.oneof(fc.constantFrom<unknown>(...TEXTS.slice(0, 8)), fc.constantFrom<unknown>(...NUMBERS), fc.boolean());
  };
  return drawn(part === undefined ? root : (root.properties?.[part] ?? {}), root, 0);
}
