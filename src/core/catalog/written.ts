import type { WrittenPicture } from "@/core/catalog/pins";
import { capital, type AreaGroup, type Value, type ValueType } from "@/core/config";
import type { ColumnDefinition, SettingDefinition, TableDefinition } from "@/core/catalog/definition";
import type { PartRelease, Release } from "@/core/catalog/release";
import type { PassageRule } from "@/core/catalog/rules";

type TypeDocument = { number: { min: number; max: number; step: number; unit?: string } } & { switch?: true } & {
  choice?: (string | { readonly word: string; readonly also: readonly string[] })[];
} & { flags?: string[] } & { text?: number };
/** A setting as it stands in a document. `for` makes one setting for each of its names. */
export interface SettingDocument extends Partial<Omit<SettingDefinition, "type" | "area">> {
  key: string;
  area?: string;
  type?: TypeDocument;
  for?: Record<string, Value>;
}
export interface ColumnDocument extends Omit<ColumnDefinition, "type"> {
  type: TypeDocument;
}
/** What the documents of all releases share. */
export interface FirmwareDocument {
  id: string;
  family: string;
  version: string;
  standing: Release["standing"];
  builtOn: string;
  inherits?: string;
  settings?: SettingDocument[];
  rules?: PassageRule[];
  change?: Omit<SettingDocument, "for">[];
  add?: SettingDocument[];
  passages?: Release["passages"];
  requires?: Release["requires"];
  layout?: string;
  areas?: { name: string; group: AreaGroup }[];
}

export interface ReleaseDocument
  extends FirmwareDocument, Omit<Partial<Release>, keyof FirmwareDocument | "tables" | "ancestor" | "pictures"> {
  pictures?: readonly WrittenPicture[];
  region: Release["region"];
  tables?: (Omit<TableDefinition, "keys" | "columns" | "belongsTo"> & {
    keys: ColumnDocument[];
    columns: ColumnDocument[];
    belongsTo?: TableDefinition["belongsTo"];
  })[];
  changeRows?: { table: string; rows: { key: string; cells?: Record<string, Value> }[] }[];
  changeColumns?: (Partial<ColumnDocument> & { table: string; column: string })[];
}

export interface PartReleaseDocument extends FirmwareDocument {
  part: string;
  targets?: PartRelease["targets"];
  idiom?: string;
  region?: PartRelease["region"];
}

export function typeOf(type: Partial<TypeDocument>): ValueType {
  if (type.number) return { kind: "number", ...type.number };
  if (type.choice) {
    const options = type.choice.map((each) => (typeof each === "string" ? each : each.word));
    const also = type.choice.flatMap((each) =>
      typeof each === "string" ? [] : each.also.map((word): [string, string] => [word, each.word]),
    );
    return { kind: "choice", options, ...(also.length === 0 ? {} : { aliases: Object.fromEntries(also) }) };
  }
  if (type.flags) return { kind: "flags", options: type.flags };
  if (type.text) return { kind: "text", maxLength: type.text };
  return { kind: "switch" };
}

export const columnOf = (column: ColumnDocument): ColumnDefinition => ({ ...column, type: typeOf(column.type) });

/** One definition, or one for each name under `for`. */
export function settingsOf(document: SettingDocument): SettingDefinition[] {
  const { for: variants, ...rest } = document;
  const one = (name: string, value: Value): SettingDefinition => {
    const fill = (text: string) => text.replaceAll("{}", name).replaceAll("{A}", capital(name));
    const { type, restricts, concept, wants, ...plain } = rest;
    return {
      ...plain,
      key: fill(rest.key),
      title: fill(rest.title ?? rest.key),
      says: fill(rest.says ?? ""),
      area: rest.area ?? "",
      scope: rest.scope ?? "system",
      type: typeOf(type ?? { switch: true }),
      default: value,
      flies: rest.flies ?? false,
      belongsTo: rest.belongsTo ?? "type",
      housekeeping: rest.housekeeping ?? false,
      ...(restricts === undefined ? {} : { restricts: fill(restricts) }),
      ...(wants === undefined ? {} : { wants: { ...wants, key: fill(wants.key) } }),
      ...(concept === undefined ? {} : { concept: { ...concept, id: fill(concept.id) } }),
    };
  };
  return variants
    ? Object.entries(variants).map(([name, value]) => one(name, value))
    : [one("", rest.default ?? false)];
}
