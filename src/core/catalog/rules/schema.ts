/** Parts that the formats of several kinds share; they are published with the release. */
export const NAME = { $ref: "release.schema.json#/$defs/name" };
export const TEXT = { $ref: "release.schema.json#/$defs/text" };
export const VALUE = { $ref: "release.schema.json#/$defs/value" };
export const WORDS = { $ref: "release.schema.json#/$defs/words" };
/** A factor that can be turned round. */
export const FACTOR = { type: "number", not: { const: 0 } };
export const NUMBER = { type: "number" };
export const some = (least: number, most: number, items: object) => ({
  type: "array",
  minItems: least,
  maxItems: most,
  items,
});
export const SHORT = { type: "string", maxLength: 64 };
